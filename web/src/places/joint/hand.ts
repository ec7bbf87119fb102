import { useLocalStorage } from '@mantine/hooks';
import type { HandState, Plan, RunState, SetUp, Tool } from '../../api/client';

/** What one of the tools at work has before it: the only one, or one of several that pull at once. */
export interface Hand {
  index: number;
  letter: string; // '' when there is one tool
  next: RunState['next'];
  prev: number;
  confirm: string | undefined;
  setting: number;
  unit: string;
  tool: Tool | undefined; // the one that is set
  setUp: SetUp | undefined; // with what goes between
  name: string;
  lastKept: RunState['lastKept'];
  left: number;
  wait: string | undefined;
  others: HandState[];
}

const nameOf = (s: SetUp | undefined, t: Tool | undefined) =>
  s
    ? s.string
        .filter((x) => !['socket', 'hose', 'extension'].includes(x.kind))
        .map((x) => x.tag)
        .join(' × ')
    : (t?.tag ?? '');

/** Which of several tools this device is for. */
export const useHandIndex = () => useLocalStorage<number>({ key: 'hand', defaultValue: 0, getInitialValueInEffect: false });

export function handOf(s: RunState, plan: Plan, index: number): Hand {
  const pass = s.pass ? s.passes[s.pass - 1] : s.passes.at(-1);
  const mine = s.hands?.[Math.min(index, (s.hands?.length ?? 1) - 1)];
  if (!mine) {
    const setUp = s.setUp ?? (s.wrench ? undefined : plan.setUp);
    const tool = s.wrench ?? plan.wrench;
    return {
      index: 0,
      letter: '',
      next: s.next,
      prev: s.prev,
      confirm: s.confirm,
      setting: s.setting || pass?.setting || 0,
      unit: pass?.unit ?? 'N_m',
      tool,
      setUp,
      name: nameOf(setUp, tool),
      lastKept: s.lastKept,
      left: s.left,
      wait: undefined,
      others: [],
    };
  }
  const tool = mine.setUp?.string[0] ?? plan.wrench;
  return {
    index: Math.min(index, (s.hands?.length ?? 1) - 1),
    letter: mine.letter,
    next: mine.next,
    prev: mine.prev,
    confirm: mine.confirm || undefined,
    setting: mine.setting || pass?.setting || 0,
    unit: mine.unit,
    tool,
    setUp: (mine.setUp?.string.length ?? 0) > 1 ? mine.setUp : undefined,
    name: nameOf(mine.setUp, tool),
    lastKept: mine.lastKept,
    left: mine.left,
    wait: mine.wait,
    others: s.hands?.filter((h) => h.letter !== mine.letter) ?? [],
  };
}

/** The word on the button that keeps a pull, by what ends it. */
export const doneWord = { clicked: 'clicked', stalled: 'stalled', run_down: 'run down', reached: 'read' } as const;

export const isPressure = (unit: string) => ['bar', 'MPa', 'psi'].includes(unit);
