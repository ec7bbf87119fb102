import type { ShiftActivity } from '../../api/client';
import { clock } from '../../kit/numbers';

export const hm = (iso: string) => clock(iso).slice(0, 5);
export const dayName = (t: number | string) =>
  new Date(t).toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric' });
export const minutes = (a: ShiftActivity) => Math.round((Date.parse(a.end) - Date.parse(a.start)) / 60_000);
export const nameOf = (a: ShiftActivity) => `${a.tag} ${a.kind}`;
