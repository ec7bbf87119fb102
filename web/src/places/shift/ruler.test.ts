import { expect, test } from 'vitest';
import type { ShiftActivity } from '../../api/client';
import { frames, gaps, hours, ruler, stepped, worked } from './ruler';

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
  expect(wide).toHaveLength(17); // that of three in the afternoon gives way to that of seven in the morning
  const narrow = hours(ruler(two, 222).stretches);
  expect(narrow.length).toBeLessThan(8);
  for (const h of narrow) expect(new Date(h.at).getMinutes()).toBe(0);
});

test('the ruler ends with the hour in which the work does', () => {
  expect(worked(two, at(1, '09:27'))).toEqual([{ from: at(1, '07:00'), to: at(1, '10:00') }]);
  expect(worked(two, at(2, '14:59')).at(-1)).toEqual(two[2]);
});

test('a place on the ruler is a moment, and back', () => {
  const r = ruler(two, 822, 0, 22);
  for (const t of [at(1, '07:00'), at(1, '11:00'), at(1, '15:00'), at(2, '07:00'), at(2, '14:10')])
    expect(Math.round(r.at(r.x(Date.parse(t))) / 1000)).toBe(Date.parse(t) / 1000);
  expect(r.at(-50)).toBe(Date.parse(at(1, '07:00')));
  expect(r.at(5000)).toBe(Date.parse(at(2, '15:00')));
  expect(ruler([], 800).at(5)).toBe(0);
  expect(ruler(two, 100, 60).wide).toBe(8 * 60 + 22 + 8 * 60);
  expect(stepped(Date.parse(at(1, '07:02')))).toBe(Date.parse(at(1, '07:00')));
  expect(stepped(Date.parse(at(1, '07:03')))).toBe(Date.parse(at(1, '07:05')));
});

test('parts of one joint that follow each other stand in one frame', () => {
  const part = (tag: string, kind: string, from: string, to: string) =>
    ({ tag, kind, start: at(1, from), end: at(1, to) }) as ShiftActivity;
  const got = frames([
    part('A', 'prepare', '07:00', '07:30'),
    part('A', 'hold', '07:30', '07:35'),
    part('B', 'prepare', '07:35', '08:00'),
    part('A', 'tighten', '08:00', '08:30'),
    part('A', 'prove', '08:40', '08:50'),
  ]);
  expect(got.map((f) => f.map((a) => a.kind))).toEqual([['prepare', 'hold'], ['prepare'], ['tighten'], ['prove']]);
});

test('what of a day lies in no shift of a crew is a gap', () => {
  const day = [{ from: Date.parse(at(1, '07:00')), to: Date.parse(at(1, '23:00')) }];
  const told = (spans: Parameters<typeof gaps>[1]) =>
    gaps(day, spans).map((g) => [new Date(g.from).getUTCHours(), new Date(g.to).getUTCHours()]);
  const from = new Date(at(1, '07:00')).getUTCHours();
  expect(
    told([
      { from: at(1, '15:00'), to: at(1, '19:00') },
      { from: at(1, '20:00'), to: at(2, '02:00') },
    ]),
  ).toEqual([
    [from, from + 8],
    [from + 12, from + 13],
  ]);
  expect(told([])).toEqual([[from, from + 16]]);
  expect(told([{ from: at(1, '00:00'), to: at(2, '00:00') }])).toEqual([]);
});
