import { describe, expect, it } from 'vitest';
import { apart, rulerOf } from './ruler';

const at = (text: string) => new Date(text).getTime();

describe('the ruler of a life', () => {
  it('spans from the first to the last, with room, whatever the scale', () => {
    for (const [a, b] of [
      ['2026-11-29T10:00', '2026-11-29T10:00'],
      ['2026-11-29T08:00', '2026-11-29T15:00'],
      ['2026-11-24T08:00', '2026-11-29T15:00'],
      ['2026-08-24T08:00', '2026-11-29T15:00'],
      ['2019-04-12T08:00', '2026-11-29T15:00'],
      ['1950-04-12T08:00', '2026-11-29T15:00'],
    ] as const) {
      const r = rulerOf([at(b), at(a)], 720);
      expect(r.x(at(a))).toBeGreaterThan(0);
      expect(r.x(at(b))).toBeLessThan(720);
      expect(r.ticks.length).toBeGreaterThanOrEqual(2);
      expect(r.ticks.length).toBeLessThanOrEqual(13);
      const xs = r.ticks.map((t) => r.x(t.at));
      expect(xs).toEqual([...xs].sort((p, q) => p - q));
      expect(new Set(r.ticks.map((t) => t.text)).size).toBeGreaterThan(1);
    }
  });
  it('names years over years, and days over days', () => {
    expect(rulerOf([at('2019-04-12'), at('2026-11-29')], 720).ticks[0]?.text).toBe('2020');
    expect(rulerOf([at('2026-11-24T08:00'), at('2026-11-29T15:00')], 720).ticks.map((t) => t.text)).toContain('26 Nov');
  });
  it('moves marks apart that would cover each other, and keeps them inside', () => {
    expect(apart([100, 300], 36, 720)).toEqual([100, 300]);
    expect(apart([100, 110, 100], 36, 720)).toEqual([100, 172, 136]);
    expect(apart([715, 715], 36, 720)).toEqual([666, 702]);
    expect(apart([0], 36, 720)).toEqual([18]);
    expect(apart([], 36, 720)).toEqual([]);
  });
});
