import { describe, expect, it } from 'vitest';
import { type Kept, withRecent } from './recent';

const kept = (name: string, load = '1'): Kept => ({ name, title: name, values: { load }, units: {} });

describe('sheets last open', () => {
  it('puts the newest first and keeps each sheet once, as it was left', () => {
    const list = withRecent([kept('a'), kept('b')], kept('b', '2'));
    expect(list.map((k) => k.name)).toEqual(['b', 'a']);
    expect(list[0]?.values.load).toBe('2');
  });

  it('keeps no more than nine', () => {
    let list: Kept[] = [];
    for (let i = 0; i < 20; i++) list = withRecent(list, kept(`s${i}`));
    expect(list).toHaveLength(9);
    expect(list[0]?.name).toBe('s19');
  });
});
