import type { ShiftActivity, ShiftPlan } from '../../api/client';

/** A stretch of the ruler: minutes of the clock, and where it lies across the board. */
interface Stretch {
  from: number;
  to: number;
  left: number;
  right: number;
}

const night = 22; // px for the hours between two shifts
const longBreak = 4 * 3_600_000; // ms

const hour = 3_600_000;

/** The shifts as far as there is work in them, to the full hour after its end: the rest of a day is no news. */
export function worked(open: ShiftPlan['open'], finish: string): ShiftPlan['open'] {
  const end = (Math.floor(Date.parse(finish) / hour) + 1) * hour;
  return open
    .filter((o) => Date.parse(o.from) < end)
    .map((o) => ({ from: o.from, to: new Date(Math.min(end, Date.parse(o.to))).toISOString() }));
}

/** Lays the time at work across a board: shifts to scale, the nights between them as narrow gaps; an hour is never narrower than least px, and the first begins after a margin. */
export function ruler(open: ShiftPlan['open'], width: number, least = 0, margin = 0) {
  const days: { from: number; to: number }[] = [];
  for (const o of open) {
    const [from, to] = [Date.parse(o.from), Date.parse(o.to)];
    const last = days.at(-1);
    if (last && from - last.to < longBreak) last.to = to;
    else days.push({ from, to });
  }
  const minutes = days.reduce((n, d) => n + d.to - d.from, 0);
  const scale = Math.max(least / hour, (width - night * (days.length - 1)) / Math.max(1, minutes));
  const stretches: Stretch[] = [];
  let left = margin;
  for (const d of days) {
    const right = left + (d.to - d.from) * scale;
    stretches.push({ ...d, left, right });
    left = right + night;
  }
  /** Where a moment lies; one at night lies at the edge of its gap. */
  const x = (t: number) => {
    const s = stretches.find((d) => t <= d.to) ?? stretches.at(-1);
    if (!s) return 0;
    return s.left + Math.max(0, Math.min(t, s.to) - s.from) * scale;
  };
  /** Which moment lies at a place; a place in the night is the morning after. */
  const at = (place: number) => {
    const s = stretches.find((d) => place <= d.right) ?? stretches.at(-1);
    if (!s) return 0;
    return Math.min(s.to, s.from + Math.max(0, place - s.left) / scale);
  };
  return { stretches, x, at, wide: stretches.at(-1)?.right ?? 0 };
}

/** What of the stretches lies in none of the spans. */
export function gaps(stretches: Pick<Stretch, 'from' | 'to'>[], spans: ShiftPlan['open']) {
  const out: { from: number; to: number }[] = [];
  for (const s of stretches) {
    let at = s.from;
    for (const o of spans) {
      const [from, to] = [Math.max(s.from, Date.parse(o.from)), Math.min(s.to, Date.parse(o.to))];
      if (from >= to) continue;
      if (from > at) out.push({ from: at, to: from });
      at = Math.max(at, to);
    }
    if (at < s.to) out.push({ from: at, to: s.to });
  }
  return out;
}

/** The full hours of the stretches, thinned out so that each has room for its figures. */
export function hours(stretches: Stretch[], room = 44): { at: number; x: number }[] {
  const out: { at: number; x: number }[] = [];
  for (const s of stretches) {
    const scale = (s.right - s.left) / (s.to - s.from);
    const step = [1, 2, 3, 4, 6].find((h) => h * hour * scale >= room) ?? 12;
    const first = new Date(s.from);
    first.setMinutes(0, 0, 0);
    for (let t = first.getTime(); t <= s.to; t += hour)
      if (t >= s.from && new Date(t).getHours() % step === 0) {
        const x = s.left + (t - s.from) * scale;
        if (x - (out.at(-1)?.x ?? -room) < room * 0.9) out.pop(); // the first hour of a day comes before the last of another
        out.push({ at: t, x });
      }
  }
  return out;
}

/** What each person, or each tool, does, in order. */
export const laneOf = (list: ShiftActivity[], of: 'people' | 'tools', name: string) =>
  list.filter((a) => a[of].includes(name));

/** Parts of one joint that follow each other in a lane: they are drawn in one frame. */
export function frames(lane: ShiftActivity[]): ShiftActivity[][] {
  const out: ShiftActivity[][] = [];
  for (const a of lane) {
    const last = out.at(-1)?.at(-1);
    if (last && last.tag === a.tag && Date.parse(a.start) - Date.parse(last.end) < 60_000) out.at(-1)?.push(a);
    else out.push([a]);
  }
  return out;
}

/** To the next full five minutes. */
export const stepped = (t: number) => Math.round(t / 300_000) * 300_000;
