/** Pure geometry of the joint drawing. Pixels out, no DOM. Angles: 0 at the top, clockwise, as seen from the tool's side. */

export type Point = readonly [number, number];

const rad = Math.PI / 180;
export const round2 = (n: number) => Math.round(n * 100) / 100;
export const polar = (r: number, deg: number): Point => [r * Math.sin(deg * rad), -r * Math.cos(deg * rad)];
const at = ([x, y]: Point) => `${round2(x)} ${round2(y)}`;

/** Where the fasteners of a group are, in a frame from -100 to 100. A bar grows from its origin along its angle. */
export interface JointLayout {
  count: number;
  round: boolean; // a bolt circle: bars grow from its middle
  circleRadius: number; // of the bolt circle, else of what surrounds all fasteners
  nutRadius: number;
  barStart: number; // from the origin of a bar
  barLength: number; // at 100 % of the final torque
  angle: (position: number) => number;
  point: (position: number) => Point;
  origin: (position: number) => Point;
}

export interface Place {
  x: number; // -1 … 1
  y: number;
  normalDeg: number;
}

/** Fasteners that stand on no circle: each has its own lane, away from the joint. */
export function placedLayout(places: Place[]): JointLayout {
  const reach = places.length === 1 ? 0 : 56;
  const points = places.map((p): Point => [p.x * reach, p.y * reach]);
  let nearest = 60;
  points.forEach((a, i) => {
    for (const b of points.slice(i + 1)) nearest = Math.min(nearest, Math.hypot(a[0] - b[0], a[1] - b[1]));
  });
  const nutRadius = places.length === 1 ? 30 : Math.max(2.4, Math.min(10, nearest * 0.38));
  const at = (p: number): Point => points[p - 1] ?? [0, 0];
  return {
    count: places.length,
    round: false,
    circleRadius: reach,
    nutRadius,
    barStart: nutRadius + 3,
    barLength: Math.min(27, lane(points, places, nutRadius)),
    angle: (p) => places[p - 1]?.normalDeg ?? 0,
    point: at,
    origin: at,
  };
}

/** How long a bar may be before it runs into the nut that stands in its way. */
function lane(points: Point[], places: Place[], nutRadius: number): number {
  let most = 27;
  points.forEach((a, i) => {
    const [ux, uy] = polar(1, places[i]?.normalDeg ?? 0);
    for (const [j, b] of points.entries()) {
      if (j === i) continue;
      const along = (b[0] - a[0]) * ux + (b[1] - a[1]) * uy;
      const aside = Math.abs((b[0] - a[0]) * uy - (b[1] - a[1]) * ux);
      if (along > 0 && aside < nutRadius * 1.6) most = Math.min(most, Math.max(5, (along - 2 * nutRadius - 6) / 1.12));
    }
  });
  return most;
}

/** A bolt circle in the frame -100…100; the first bolt at startDeg. */
export function circleLayout(count: number, startDeg: number, anticlockwise = false): JointLayout {
  const circleRadius = count > 20 ? 51 : count > 16 ? 49 : count > 12 ? 48 : 46;
  const nutRadius = Math.min(11.5, (0.88 * Math.PI * circleRadius) / count);
  const angle = (p: number) => startDeg + ((anticlockwise ? 1 - p : p - 1) * 360) / count;
  return {
    count,
    round: true,
    circleRadius,
    nutRadius,
    barStart: circleRadius + nutRadius + 2,
    barLength: count > 12 ? 33 : 34,
    angle,
    point: (p) => polar(circleRadius, angle(p)),
    origin: () => [0, 0],
  };
}

/** Radius of a fraction of the final torque; cut at tMax. */
export const torqueRadius = (l: JointLayout, fraction: number, tMax: number) =>
  l.barStart + l.barLength * Math.min(fraction, tMax);

/** Which numbers are drawn: all up to 28 bolts, then every fourth and those that matter. */
export function showsNumber(l: JointLayout, position: number, matters: boolean): boolean {
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
export function tallyRing(l: JointLayout, p: number): readonly [number, number] {
  const outer = l.circleRadius - l.nutRadius - 3.2 - 4.6 * p;
  return [outer - 3.3, outer];
}

/** The line from one nut to the next, shortened so that it touches neither. */
export function travel(l: JointLayout, from: number, to: number, k: number) {
  const [ax, ay] = l.point(from).map((v) => v * k) as unknown as [number, number];
  const [bx, by] = l.point(to).map((v) => v * k) as unknown as [number, number];
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
