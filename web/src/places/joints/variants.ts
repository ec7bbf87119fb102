import type { Family, Fasteners, Specification } from '../../api/client';

type Kin = Family['fasteners'][number];

/** What a group of a procedure begins with. */
export function blank(kin: Kin, first: boolean): Fasteners {
  const form =
    kin.target === 'torque'
      ? 'torque'
      : kin.target === 'stretch'
        ? 'stretch'
        : kin.target === 'turns'
          ? 'turns'
          : 'stated';
  return {
    ...(first ? {} : { group: kin.code }),
    bolts: (kin.layout.kind ?? 'circle') === 'circle' ? kin.layout.count : 0,
    thread: '',
    material: '',
    lubricant: '',
    target:
      form === 'torque'
        ? { form, nominal: 0, minusPct: 5, plusPct: 5, unit: 'N_m' }
        : form === 'turns'
          ? { form, turnDeg: 360 }
          : { form, ...(form === 'stretch' ? { stretchMm: 0, minusPct: 10, plusPct: 10 } : {}) },
  };
}

/**
 * A specification with its questions answered otherwise. What the group that stood first was given stays, under its name;
 * what the group that stands first now was given before, if it ever was, comes back.
 */
export function withVariant(
  s: Specification,
  variant: Record<string, string>,
  before: Kin | undefined,
  after: Kin | undefined,
): Specification {
  if (!before || !after || before.code === after.code) return { ...s, variant };
  const named = s.groups.map((f, i) => (i === 0 && !f.group ? { ...f, group: before.code } : f));
  const now = named.find((f) => f.group === after.code) ?? { ...blank(after, false), group: after.code };
  return { ...s, variant, groups: [now, ...named.filter((f) => f !== now)] };
}
