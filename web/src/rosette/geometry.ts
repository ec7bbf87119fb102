/** Pure geometry of the joint drawing. Pixels out, no DOM. Angles: 0 at the top, clockwise, as seen from the tool's side. */

export type Point = readonly [number, number];

const rad = Math.PI / 180;
export const round2 = (n: number) => Math.round(n * 100) / 100;
export const polar = (r: number, deg: number): Point => [r * Math.sin(deg * rad), -r * Math.cos(deg * rad)];
const at = ([x, y]: Point) => `${round2(x)} ${round2(y)}`;

export interface CircleLayout {
  count: number;
  circleRadius: number; // bolt circle, in a frame from -100 to 100
  nutRadius: number;
  barStart: number;
  barLength: number; // at 100 % of the final torque
  angle: (position: number) => number;
}

/** A bolt circle in the frame -100…100; the first bolt at startDeg. */
export function circleLayout(count: number, startDeg: number): CircleLayout {
  const circleRadius = count > 20 ? 51 : count > 16 ? 49 : count > 12 ? 48 : 46;
  const nutRadius = Math.min(11.5, (0.88 * Math.PI * circleRadius) / count);
  return {
    count,
    circleRadius,
    nutRadius,
    barStart: circleRadius + nutRadius + 2,
    barLength: count > 12 ? 33 : 34,
    angle: (p) => startDeg + ((p - 1) * 360) / count,
  };
}

/** Radius of a fraction of the final torque; cut at tMax. */
export const torqueRadius = (l: CircleLayout, fraction: number, tMax: number) => l.barStart + l.barLength * Math.min(fraction, tMax);

/** Which numbers are drawn: all up to 28 bolts, then every fourth and those that matter. */
export function showsNumber(l: CircleLayout, position: number, matters: boolean): boolean {
  if (l.count <= 28) return true;
  if (l.count > 60) return matters;
  return matters || (position - 1) % 4 === 0;
}

export function hexagon(x: number, y: number, r: number, rotation = 0): string {
  let d = '';
  for (let i = 0; i < 6; i++) {
    const [a, b] = polar(r, rotation + 30 + i * 60);
    d += (i ? 'L' : 'M') + at([x + a, y + b]);
  }
  return `${d}Z`;
}

const ring = (r: number) => `M${at([0, -r])}A${round2(r)} ${round2(r)} 0 1 1 -0.01 ${round2(-r)}Z`;
export const annulus = (inner: number, outer: number) => ring(outer) + ring(inner);

export function sector(inner: number, outer: number, from: number, to: number): string {
  const large = to - from > 180 ? 1 : 0;
  return `M${at(polar(outer, from))}A${round2(outer)} ${round2(outer)} 0 ${large} 1 ${at(polar(outer, to))}L${at(polar(inner, to))}A${round2(inner)} ${round2(inner)} 0 ${large} 0 ${at(polar(inner, from))}Z`;
}

export const arc = (r: number, from: number, to: number) =>
  `M${at(polar(r, from))}A${round2(r)} ${round2(r)} 0 ${Math.abs(to - from) > 180 ? 1 : 0} ${to > from ? 1 : 0} ${at(polar(r, to))}`;

/** Pass tally: ring p (0 outermost) as inner and outer radius. */
export function tallyRing(l: CircleLayout, p: number): readonly [number, number] {
  const outer = l.circleRadius - l.nutRadius - 3.2 - 4.6 * p;
  return [outer - 3.3, outer];
}

/** The line from one nut to the next, shortened so that it touches neither. */
export function travel(l: CircleLayout, from: number, to: number, k: number) {
  const [ax, ay] = polar(l.circleRadius * k, l.angle(from));
  const [bx, by] = polar(l.circleRadius * k, l.angle(to));
  const length = Math.hypot(bx - ax, by - ay) || 1;
  const ux = (bx - ax) / length;
  const uy = (by - ay) / length;
  const nr = l.nutRadius * k;
  const start: Point = [ax + ux * (nr + 3), ay + uy * (nr + 3)];
  const end: Point = [bx - ux * (nr * 1.42 + 8), by - uy * (nr * 1.42 + 8)];
  const h = Math.max(8, 5.2 * k);
  const head = `M${at([end[0] + ux * 4, end[1] + uy * 4])}L${at([end[0] - ux * h - uy * h * 0.55, end[1] - uy * h + ux * h * 0.55])}L${at([end[0] - ux * h + uy * h * 0.55, end[1] - uy * h - ux * h * 0.55])}Z`;
  return { line: `M${at(start)}L${at(end)}`, head, start };
}
