import type { PressureTestKind, PressureTestSpec } from '../../api/client';

export type Step = NonNullable<PressureTestSpec['steps']>[number];

type N = number | '';
/** A test while it is typed: a field may be empty. */
export interface Draft {
  tag: string;
  title: string;
  kind: PressureTestKind;
  joints: string[];
  procedure: string;
  medium: string;
  designBar: N;
  testBar: N;
  mostBar: N;
  holdMin: N;
  lossBar: N;
  barPerC: N;
  volumeM3: N;
  gaugeTag: string;
  rangeBar: N;
  markBar: N;
  checkBy: string;
  barriers: string;
  zoneM: N;
  refC: N;
  tolPct: N;
  cycles: N;
}
export const empty: Draft = {
  tag: '',
  title: '',
  kind: 'hydrostatic',
  joints: [],
  procedure: '',
  medium: 'fresh water',
  designBar: '',
  testBar: '',
  mostBar: '',
  holdMin: 30,
  lossBar: '',
  barPerC: '',
  volumeM3: '',
  gaugeTag: '',
  rangeBar: '',
  markBar: '',
  checkBy: '',
  barriers: '',
  zoneM: '',
  refC: 20,
  tolPct: 5,
  cycles: '',
};
/** What a kind of test is usually done with. */
export const media: Record<PressureTestKind, string> = {
  hydrostatic: 'fresh water',
  pneumatic: 'air',
  vacuum: 'air',
  precharge: 'nitrogen',
  purge: 'oil',
};

/** The draft that a test was, or is to be like. */
export function draftOf(s: PressureTestSpec, tag: string): Draft {
  return {
    ...empty,
    ...s,
    tag,
    medium: s.medium,
    designBar: s.designBar ?? '',
    testBar: s.testBar ?? '',
    mostBar: s.mostBar ?? '',
    holdMin: s.steps?.find((x) => x.test)?.min ?? 30,
    lossBar: s.lossBar ?? '',
    barPerC: s.barPerC ?? '',
    volumeM3: s.volumeM3 ?? '',
    gaugeTag: s.gauge.tag,
    rangeBar: s.gauge.rangeBar,
    markBar: s.gauge.markBar,
    checkBy: s.gauge.checkBy,
    barriers: (s.barriers ?? []).join('\n'),
    zoneM: s.zoneM ?? '',
    refC: s.refC ?? '',
    tolPct: s.tolPct ?? '',
    cycles: s.cycles ?? '',
  };
}

/** A figure of a field; an empty one is nought, which core refuses where it must not be. */
export const filled = (v: N) => (typeof v === 'number' && Number.isFinite(v) ? v : 0);

/** Whether a pressure is gone to in steps and held. */
export const isHeld = (k: PressureTestKind) => k === 'hydrostatic' || k === 'pneumatic' || k === 'vacuum';

/** What is sent of a draft: of each kind what it is laid out by. */
export function specOf(d: Draft, steps: Step[]): PressureTestSpec {
  return {
    tag: d.tag.trim(),
    title: d.title,
    kind: d.kind,
    joints: d.joints,
    procedure: d.procedure,
    medium: d.medium,
    gauge: {
      tag: d.gaugeTag.trim(),
      rangeBar: filled(d.rangeBar),
      markBar: filled(d.markBar),
      checkBy: d.checkBy,
      absolute: d.kind === 'vacuum',
    },
    ...(isHeld(d.kind) || d.kind === 'precharge' ? { testBar: filled(d.testBar) } : {}),
    ...(isHeld(d.kind) ? { lossBar: filled(d.lossBar), steps } : {}),
    ...(d.kind === 'hydrostatic' || d.kind === 'pneumatic'
      ? { designBar: filled(d.designBar), mostBar: filled(d.mostBar) }
      : {}),
    ...(d.kind === 'hydrostatic' ? { barPerC: filled(d.barPerC) } : {}),
    ...(d.kind === 'pneumatic' || d.kind === 'vacuum' ? { volumeM3: filled(d.volumeM3) } : {}),
    ...(d.kind === 'pneumatic'
      ? {
          zoneM: filled(d.zoneM),
          barriers: d.barriers
            .split('\n')
            .map((b) => b.trim())
            .filter(Boolean),
        }
      : {}),
    ...(d.kind === 'precharge' ? { refC: filled(d.refC), tolPct: filled(d.tolPct) } : {}),
    ...(d.kind === 'purge' ? { cycles: filled(d.cycles) } : {}),
  };
}
