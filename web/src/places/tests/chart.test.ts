import { expect, test } from 'vitest';
import type { PressureTest } from '../../api/client';
import { curves, left, share, ticks } from './chart';

const at = (m: number) => new Date(Date.UTC(2026, 10, 3, 11, m)).toISOString();
const now = Date.parse(at(20));

test('what was read lies over what was planned, from the first reading', () => {
  const v = {
    spec: { testBar: 24 },
    planned: [
      { min: 0, bar: 0 },
      { min: 5, bar: 12 },
      { min: 60, bar: 0 },
    ],
    state: {
      trace: [
        { at: at(0), bar: 0 },
        { at: at(5), bar: 11.5, tempC: 12 },
      ],
    },
  } as unknown as PressureTest;
  const c = curves(v, now);
  expect(c.read).toEqual([
    [0, 0],
    [5, 11.5],
  ]);
  expect(c.temps).toEqual([[5, 12]]);
  expect(c.here).toBe(20);
  expect(c.end).toBeGreaterThan(60);
  expect(c.top).toBeGreaterThan(24);
});

test('an axis has round steps, few enough to be read', () => {
  expect(ticks(60)).toEqual([0, 10, 20, 30, 40, 50, 60]);
  expect(ticks(0.0112)).toHaveLength(6);
  for (const end of [1, 7, 33, 480, 0.3]) expect(ticks(end).length).toBeLessThan(11);
});

test('the time left counts down to nothing and stays there', () => {
  expect(left(at(33), now)).toBe('13:00');
  expect(left(at(20), now)).toBe('00:00');
  expect(left(at(10), now)).toBe('00:00');
  expect(left(at(20 + 61), now)).toBe('1:01:00');
  expect(left(undefined, now)).toBe('');
});

test('the share of a hold stays between nothing and all', () => {
  expect(share(at(10), at(30), now)).toBe(0.5);
  expect(share(at(21), at(30), now)).toBe(0);
  expect(share(at(1), at(2), now)).toBe(1);
  expect(share(at(1), at(1), now)).toBe(1);
});
