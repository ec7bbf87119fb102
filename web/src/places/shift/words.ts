import type { ShiftActivity } from '../../api/client';
import { clock } from '../../kit/numbers';

export const hm = (at: string | number) => clock(new Date(at).toISOString()).slice(0, 5);
export const dayName = (t: number | string) =>
  new Date(t).toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric' });
export const minutes = (a: ShiftActivity) => Math.round((Date.parse(a.end) - Date.parse(a.start)) / 60_000);
export const nameOf = (a: { tag: string; kind: string }) => `${a.tag} ${a.kind}`;

/** What a kind of work is called on the board. */
export const kindWord: Record<ShiftActivity['kind'], string> = {
  prepare: 'prepare',
  hold: 'hold',
  lubricate: 'lubricate',
  tighten: 'tighten',
  prove: 'prove',
  witness: 'witness',
  test: 'test',
};

/** The tools as the plan tells them; plans from before it did list them. */
export const toolsOf = (a: ShiftActivity) => a.with || a.tools.join(' + ');

/** With which tools, when there are any. */
export const withTools = (a: ShiftActivity) => (a.tools.length > 0 ? ` with ${toolsOf(a)}` : '');
