/** Moments on a line of a length: from the first of them, with a little room before and after. */
export interface Ruler {
  x: (at: number) => number;
  ticks: { at: number; text: string; strong: boolean }[];
}

const hour = 3_600_000;
const day = 24 * hour;

/** Steps between ticks, with how each is said. */
const steps: [length: number, say: (d: Date) => string, strong: (d: Date) => boolean][] = [
  [hour, (d) => `${String(d.getHours()).padStart(2, '0')}:00`, (d) => d.getHours() === 0],
  [
    6 * hour,
    (d) => (d.getHours() === 0 ? short(d) : `${String(d.getHours()).padStart(2, '0')}:00`),
    (d) => d.getHours() === 0,
  ],
  [day, short, (d) => d.getDate() === 1],
  [7 * day, short, (d) => d.getDate() <= 7],
  [30 * day, (d) => d.toLocaleDateString('en-GB', { month: 'short', year: '2-digit' }), (d) => d.getMonth() === 0],
  [365 * day, (d) => String(d.getFullYear()), () => true],
];

function short(d: Date): string {
  return d.toLocaleDateString('en-GB', { day: 'numeric', month: 'short' });
}

/** The first moment of a step at or after a moment, by the calendar of this place. */
function begin(at: number, length: number): Date {
  const d = new Date(at);
  d.setMinutes(0, 0, 0);
  if (length >= day) d.setHours(0);
  if (length >= 30 * day) d.setDate(1);
  if (length >= 365 * day) d.setMonth(0);
  while (d.getTime() < at || (length === 6 * hour && d.getHours() % 6 !== 0)) next(d, length);
  return d;
}

function next(d: Date, length: number): void {
  if (length >= 365 * day) d.setFullYear(d.getFullYear() + Math.round(length / (365 * day)));
  else if (length >= 30 * day) d.setMonth(d.getMonth() + 1);
  else if (length >= day) d.setDate(d.getDate() + length / day);
  else d.setHours(d.getHours() + (length === 6 * hour && d.getHours() % 6 !== 0 ? 1 : length / hour));
}

/** A ruler over some moments, in milliseconds, with at most a tick every 64 px. */
export function rulerOf(moments: number[], width: number): Ruler {
  const first = Math.min(...moments);
  const last = Math.max(...moments);
  const span = Math.max(last - first, 2 * hour);
  const from = first - span * 0.03;
  const to = first + span * 1.03;
  const x = (at: number) => ((at - from) / (to - from)) * width;
  const most = Math.max(2, width / 64);
  const years = Math.ceil((to - from) / (365 * day) / most);
  const fits = steps.find(([length]) => (to - from) / length <= most) ?? [
    365 * day * years,
    (d: Date) => String(d.getFullYear()),
    () => true,
  ];
  const [length, say, strong] = fits;
  const ticks: Ruler['ticks'] = [];
  for (const d = begin(from, length); d.getTime() <= to; next(d, length))
    ticks.push({ at: d.getTime(), text: say(d), strong: strong(d) });
  return { x, ticks };
}

/** Places of marks on a lane, moved apart where they would cover each other, all inside the width. */
export function apart(xs: number[], each: number, width: number): number[] {
  const order = xs.map((_, i) => i).sort((a, b) => (xs[a] ?? 0) - (xs[b] ?? 0));
  const out = [...xs];
  let least = each / 2;
  for (const i of order) {
    out[i] = Math.max(xs[i] ?? 0, least);
    least = (out[i] ?? 0) + each;
  }
  let most = width - each / 2;
  for (const i of order.reverse()) {
    out[i] = Math.min(out[i] ?? 0, most);
    most = (out[i] ?? 0) - each;
  }
  return out;
}
