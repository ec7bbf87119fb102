/** What is looked for among the records, as its address says it. */
export interface RecordSearch {
  q?: string;
  facet?: string[];
  from?: string; // day, as in 2026-11-29
  to?: string; // last day
}

/** What records are found by, with the words before a value. */
export const facetWords = {
  person: 'by',
  tool: 'with tool',
  batch: 'batch',
  lubricant: 'lubricant',
  gasket: 'gasket',
  finding: 'where this was out:',
  family: 'of family',
  area: 'in',
  document: 'by document',
  verdict: 'that are',
  added: 'with an added',
} as const;
export type FacetKind = keyof typeof facetWords;

/** Kind and value of a facet as it stands in an address. */
export function facetOf(text: string): [kind: FacetKind, value: string] | undefined {
  const at = text.indexOf(':');
  const kind = text.slice(0, at);
  return at > 0 && Object.hasOwn(facetWords, kind) ? [kind as FacetKind, text.slice(at + 1)] : undefined;
}

/** A day of this place as a moment: its beginning, or with next the beginning of the day after. Not a day: undefined. */
export function moment(day: string | undefined, next = false): string | undefined {
  const m = /^(\d{4})-(\d{2})-(\d{2})$/.exec(day ?? '');
  if (!m) return undefined;
  const d = new Date(`${day}T00:00:00`);
  if (next) d.setDate(d.getDate() + 1);
  return Number.isNaN(d.getTime()) ? undefined : d.toISOString();
}

/** What the server is asked for a search. */
export const asked = (s: RecordSearch) => ({
  q: s.q || undefined,
  facet: s.facet?.filter((f) => facetOf(f)),
  from: moment(s.from),
  to: moment(s.to, true),
});

/** The same as the query of an address, for what is exported and kept. */
export function queryOf(s: ReturnType<typeof asked> | RecordSearch): string {
  const p = new URLSearchParams();
  if (s.q) p.set('q', s.q);
  for (const f of s.facet ?? []) p.append('facet', f);
  if (s.from) p.set('from', s.from);
  if (s.to) p.set('to', s.to);
  return p.toString();
}

/** Reads what queryOf wrote. */
export function searchOf(query: string): RecordSearch {
  const p = new URLSearchParams(query);
  const facet = p.getAll('facet');
  return {
    q: p.get('q') ?? undefined,
    facet: facet.length > 0 ? facet : undefined,
    from: p.get('from') ?? undefined,
    to: p.get('to') ?? undefined,
  };
}
