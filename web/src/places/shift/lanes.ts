import type { ShiftActivity, ShiftPlan } from '../../api/client';
import { laneOf } from './ruler';

export interface Lane {
  of: 'people' | 'tools';
  name: string;
  top: number;
  acts: ShiftActivity[];
}

export const laneTall = 30;
export const names = 118;
export const rulerTall = 44;
export const isoTall = 18;

/** The lanes of a board, people first, then the tools that are used most; lines of isolations stand above them. */
export function lanesOf(p: ShiftPlan) {
  const people = p.people.filter(
    (n) => laneOf(p.activities, 'people', n).length > 0 || p.away.some((w) => w.name === n),
  );
  const free = p.people.filter((n) => !people.includes(n));
  const tools = p.tools.slice(0, 8);
  const head = rulerTall + p.isolations.length * isoTall + (p.isolations.length > 0 ? 6 : 0);
  const lanes: Lane[] = [
    ...people.map((name) => ({ of: 'people' as const, name })),
    ...tools.map((name) => ({ of: 'tools' as const, name })),
  ].map((l, i) => ({
    ...l,
    top: head + i * laneTall + (i >= people.length ? 26 : 0),
    acts: laneOf(p.activities, l.of, l.name),
  }));
  const toolsAt = head + people.length * laneTall + 18;
  const tall = (lanes.at(-1)?.top ?? head) + laneTall + 8;
  return { lanes, people, free, tools, head, toolsAt, tall };
}
