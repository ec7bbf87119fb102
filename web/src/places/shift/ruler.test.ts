import { expect, test } from 'vitest';
import { hours, ruler, worked } from './ruler';

const at = (day: number, clock: string) => new Date(`2026-12-0${day}T${clock}:00`).toISOString();
const two = [
  { from: at(1, '07:00'), to: at(1, '12:00') },
  { from: at(1, '12:30'), to: at(1, '15:00') },
  { from: at(2, '07:00'), to: at(2, '15:00') },
];

test('shifts lie to scale, a break within them, the night as a gap', () => {
  const { stretches, x } = ruler(two, 822);
  expect(stretches.map((s) => [s.left, s.right])).toEqual([
    [0, 400],
    [422, 822],
  ]);
  expect(x(Date.parse(at(1, '11:00')))).toBe(200);
  expect(x(Date.parse(at(1, '22:00')))).toBe(422);
  expect(x(Date.parse(at(2, '15:00')))).toBe(822);
  expect(x(Date.parse(at(3, '15:00')))).toBe(822);
  expect(ruler([], 800).x(0)).toBe(0);
});

test('hours are thinned out where they have no room', () => {
  const wide = hours(ruler(two, 1622).stretches);
  expect(wide).toHaveLength(18);
  const narrow = hours(ruler(two, 222).stretches);
  expect(narrow.length).toBeLessThan(8);
  for (const h of narrow) expect(new Date(h.at).getMinutes()).toBe(0);
});

test('the ruler ends with the hour in which the work does', () => {
  expect(worked(two, at(1, '09:27'))).toEqual([{ from: at(1, '07:00'), to: at(1, '10:00') }]);
  expect(worked(two, at(2, '14:59')).at(-1)).toEqual(two[2]);
});
