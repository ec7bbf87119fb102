import type { Fasteners, Specification } from '../api/client';

const nothing: Fasteners = { bolts: 0, thread: '', material: '', lubricant: '', target: { form: 'not_given' } };

/** What a document demands of a group, first telling whether it is the first of the procedure. */
export const demandOf = (s: Specification, code: string | undefined, first: boolean): Fasteners | undefined =>
  s.groups.find((f) => f.group === code || (first && !f.group));

/** What a document demands of the group that it names first. */
export const firstDemand = (s: Specification): Fasteners => s.groups[0] ?? nothing;
