import type { Family, Fasteners, Specification } from '../../api/client';

type Kin = Family['fasteners'][number];

const keys = [
  'group',
  'bolts',
  'boltCircleMm',
  'seenFrom',
  'thread',
  'material',
  'lengthMm',
  'clampMm',
  'lubricant',
  'target',
  'layout',
  'order',
  'movedLimitDeg',
] as const;

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
 * A specification with its questions answered otherwise. What the group that stood first was given is put beside, under
 * its name; what the group that stands first now was given before, if it ever was, comes back.
 */
export function withVariant(
  s: Specification,
  variant: Record<string, string>,
  before: Kin | undefined,
  after: Kin | undefined,
): Specification {
  if (!before || !after || before.code === after.code) return { ...s, variant };
  const own: Record<string, unknown> = {};
  const rest: Record<string, unknown> = { ...s };
  for (const k of keys) {
    if (rest[k] !== undefined) own[k] = rest[k];
    delete rest[k];
  }
  const others = (s.others ?? []).filter((o) => o.group !== after.code && o.group !== before.code);
  const known = s.others?.find((o) => o.group === after.code) ?? blank(after, false);
  return {
    ...(rest as Specification),
    ...known,
    group: after.code,
    variant,
    others: [...others, { ...(own as Fasteners), group: before.code }],
  };
}
