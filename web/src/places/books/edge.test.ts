import { describe, expect, it } from 'vitest';
import { chaptersOf, leavesOfStroke, minutesLeft, spansOf } from './edge';

const entry = (chapter: 'front' | 'joints' | 'tests', leaves: number, gap = false) => ({
  chapter,
  key: 'x',
  title: '',
  note: '',
  gap,
  leaves,
});
const entries = [
  entry('front', 2),
  entry('joints', 4),
  entry('joints', 4),
  entry('joints', 1, true),
  entry('joints', 1, true),
  entry('joints', 4),
  entry('tests', 2),
];

describe('the fore edge', () => {
  it('joins what is alike and keeps every gap by itself', () => {
    expect(chaptersOf(entries, [3, 5])).toEqual([
      { chapter: 'front', leaves: 3, pieces: [{ from: 0, leaves: 3, state: 'made' }] },
      {
        chapter: 'joints',
        leaves: 15,
        pieces: [
          { from: 0, leaves: 5, state: 'made' },
          { from: 5, leaves: 4, state: 'to come' },
          { from: 9, leaves: 1, state: 'gap' },
          { from: 10, leaves: 1, state: 'gap' },
          { from: 11, leaves: 4, state: 'to come' },
        ],
      },
      { chapter: 'tests', leaves: 2, pieces: [{ from: 0, leaves: 2, state: 'to come' }] },
    ]);
  });
  it('says the leaves of each entry', () => {
    expect(spansOf(entries.slice(0, 3), [3])).toEqual([
      [1, 3],
      [4, 7],
      [8, 11],
    ]);
  });
  it('never draws strokes closer than 4 px', () => {
    expect(leavesOfStroke(250, 1000)).toBe(1);
    expect(leavesOfStroke(251, 1000)).toBe(2);
    expect(leavesOfStroke(4024, 1000)).toBe(20);
  });
  it('tells the time left from what is done', () => {
    expect(minutesLeft(0, 60_000, 7, 100)).toBeUndefined();
    expect(minutesLeft(0, 60_000, 10, 40)).toBe(3);
    expect(minutesLeft(0, 60_000, 50, 40)).toBe(0);
  });
});
