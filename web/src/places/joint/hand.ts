import { useLocalStorage } from '@mantine/hooks';
import type { FastenerGroup, HandState, Plan, RunState, SetUp, Tool } from '../../api/client';
import { num } from '../../kit/numbers';
import { groupOf } from '../../rosette/GroupRosette';

/** What one of the tools at work has before it: the only one, or one of several that pull at once. */
export interface Hand {
  index: number;
  group: FastenerGroup; // of the present pass
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
export const useHandIndex = () =>
  useLocalStorage<number>({ key: 'hand', defaultValue: 0, getInitialValueInEffect: false });

export function handOf(s: RunState, plan: Plan, index: number): Hand {
  const pass = s.pass ? s.passes[s.pass - 1] : s.passes.at(-1);
  const group = groupOf(plan, pass?.group);
  const mine = s.hands?.[Math.min(index, (s.hands?.length ?? 1) - 1)];
  if (!mine) {
    const sets = pass ? toolKinds.has(pass.kind) : true;
    const setUp = sets ? (s.setUp ?? (s.wrench ? undefined : group.setUp)) : undefined;
    const tool = sets ? (s.wrench ?? group.wrench) : undefined;
    return {
      index: 0,
      group,
      letter: '',
      next: s.next,
      prev: s.prev,
      confirm: s.confirm,
      setting: s.setting || pass?.setting || 0,
      unit: pass?.unit || 'N_m',
      tool,
      setUp,
      name: nameOf(setUp, tool),
      lastKept: s.lastKept,
      left: s.left,
      wait: undefined,
      others: [],
    };
  }
  const tool = mine.setUp?.string[0] ?? group.wrench;
  return {
    group,
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

/** The kinds of pass for which a tool is set. */
export const toolKinds = new Set(['stage', 'check', 'verify', 'turns']);

/** The word on the button that keeps a visit, by what ends it. */
export const doneWord: Record<string, string> = {
  clicked: 'clicked',
  stalled: 'stalled',
  run_down: 'run down',
  reached: 'read',
  by_hand: 'done by hand',
  turned: 'turned',
  shaped: 'is there',
  measured: 'measured',
  left: 'left as it is',
  undone: 'undone',
};

/** A turn as people say it. */
export function turnWords(deg: number): string {
  const words: Record<number, string> = {
    90: 'a quarter turn',
    180: 'half a turn',
    270: 'three quarters of a turn',
    360: 'one full turn',
    450: 'one turn and a quarter',
    540: 'one turn and a half',
  };
  const flats = deg / 60;
  return `${words[deg] ?? `${num(deg, 1)}°`}${Number.isInteger(flats) || Number.isInteger(flats * 2) ? `, ${flats} ${flats === 1 ? 'flat' : 'flats'}` : ''}`;
}

/** Where a mark at six o’clock comes to by a turn clockwise. */
export function markGoes(deg: number): string {
  const h = (6 + deg / 30) % 12;
  const at = `${num(h === 0 ? 12 : h, 1)} o’clock`;
  const turns = Math.floor(deg / 360);
  if (deg % 360 === 0) return `Mark comes back to 6 o’clock${turns > 1 ? `, ${turns} times` : ''}`;
  return `Mark goes clockwise from 6${turns ? `, past 6${turns > 1 ? ` ${turns} times` : ''},` : ''} to ${at}`;
}

export const isPressure = (unit: string) => ['bar', 'MPa', 'psi'].includes(unit);
