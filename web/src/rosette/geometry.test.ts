import { describe, expect, it } from 'vitest';
import {
  circleLayout,
  hexagon,
  type Place,
  placedLayout,
  polar,
  sector,
  showsNumber,
  tallyRing,
  torqueRadius,
  travel,
} from './geometry';

describe('bolt circle', () => {
  it('puts angle 0 at the top and goes clockwise', () => {
    expect(polar(10, 0).map((v) => Math.round(v))).toEqual([0, -10]);
    expect(polar(10, 90).map((v) => Math.round(v))).toEqual([10, -0]);
  });

  it.each([
    [8, 46, 11.5, 34],
    [16, 48, (0.88 * Math.PI * 48) / 16, 33],
    [20, 49, (0.88 * Math.PI * 49) / 20, 33],
    [24, 51, (0.88 * Math.PI * 51) / 24, 33],
  ])('sizes %i bolts', (n, circle, nut, bar) => {
    const l = circleLayout(n, 180 / n);
    expect(l.circleRadius).toBe(circle);
    expect(l.nutRadius).toBeCloseTo(nut, 9);
    expect(l.barLength).toBe(bar);
    expect(l.barStart).toBeCloseTo(circle + l.nutRadius + 2, 9);
  });

  it('lets the first two bolts straddle the top', () => {
    const l = circleLayout(16, 180 / 16);
    expect(l.angle(1)).toBeCloseTo(11.25, 9);
    expect(l.angle(16)).toBeCloseTo(360 - 11.25, 9);
  });

  it('never lets neighbouring nuts touch', () => {
    for (let n = 3; n <= 120; n++) {
      const l = circleLayout(n, 0);
      expect(2 * l.circleRadius * Math.sin(Math.PI / n)).toBeGreaterThan(Math.sqrt(3) * l.nutRadius * 0.98);
    }
  });

  it('cuts a bar at the end of the scale', () => {
    const l = circleLayout(8, 0);
    expect(torqueRadius(l, 2, 1.12)).toBeCloseTo(l.barStart + 34 * 1.12, 9);
    expect(torqueRadius(l, 0, 1.12)).toBe(l.barStart);
  });

  it('thins out numbers on crowded rings but keeps what matters', () => {
    const crowded = circleLayout(32, 0);
    expect(showsNumber(crowded, 2, false)).toBe(false);
    expect(showsNumber(crowded, 5, false)).toBe(true);
    expect(showsNumber(crowded, 2, true)).toBe(true);
    expect(showsNumber(circleLayout(28, 0), 2, false)).toBe(true);
  });

  it('draws tally rings inside the nuts, each apart from the next', () => {
    const l = circleLayout(16, 0);
    const [i0, o0] = tallyRing(l, 0);
    const [, o1] = tallyRing(l, 1);
    expect(o0).toBeLessThan(l.circleRadius - l.nutRadius);
    expect(o1).toBeLessThan(i0);
  });
});

describe('paths', () => {
  it('closes a hexagon of six corners', () => {
    expect(hexagon(0, 0, 5).match(/[ML]/g)).toHaveLength(6);
  });
  it('marks sectors over half a turn as large', () => {
    expect(sector(1, 2, 0, 200)).toContain(' 0 1 1 ');
    expect(sector(1, 2, 0, 90)).toContain(' 0 0 1 ');
  });
  it('starts and ends the travel line clear of both nuts', () => {
    const l = circleLayout(8, 22.5);
    const t = travel(l, 1, 5, 3);
    expect(Math.hypot(t.start[0], t.start[1])).toBeLessThan(l.circleRadius * 3 - l.nutRadius * 3);
  });
});

describe('fasteners on no circle', () => {
  const row = (n: number): Place[] =>
    Array.from({ length: n }, (_, i) => ({ x: n === 1 ? 0 : (2 * i) / (n - 1) - 1, y: 0, normalDeg: 0 }));

  it('stand where their places say', () => {
    const l = placedLayout(row(3));
    expect(l.round).toBe(false);
    expect(l.point(1)[0]).toBeCloseTo(-56, 9);
    expect(l.point(2)).toEqual([0, 0]);
    expect(l.point(3)[0]).toBeCloseTo(56, 9);
    expect(l.origin(3)).toEqual(l.point(3));
  });

  it('never touch, however many there are', () => {
    for (let n = 2; n <= 14; n++) {
      const l = placedLayout(row(n));
      expect(2 * l.nutRadius).toBeLessThan(112 / (n - 1) + 1e-9);
    }
  });

  it('keep a bar out of the nut that stands in its way', () => {
    const column: Place[] = [
      { x: 0, y: -0.5, normalDeg: 0 },
      { x: 0, y: 0.5, normalDeg: 0 },
    ];
    const l = placedLayout(column);
    const reach = l.barStart + l.barLength * 1.12;
    expect(reach).toBeLessThan(56 - l.nutRadius);
  });

  it('draw a single nut large', () => {
    const l = placedLayout(row(1));
    expect(l.nutRadius).toBe(30);
    expect(l.point(1)).toEqual([0, 0]);
  });

  it('go the other way round when asked', () => {
    const l = circleLayout(8, 0, true);
    expect(l.angle(2)).toBeCloseTo(-45, 9);
  });
});
