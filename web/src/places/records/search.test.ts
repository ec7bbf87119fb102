import { describe, expect, it } from 'vitest';
import { asked, facetOf, moment, queryOf, searchOf } from './search';

describe('a search of records', () => {
  it('goes into an address and back', () => {
    const s = { q: 'sw-111', facet: ['tool:W-40', 'person:R. Ábara & Söhne: ß'], from: '2026-11-01', to: '2026-11-30' };
    expect(searchOf(queryOf(s))).toEqual(s);
    expect(searchOf('')).toEqual({});
  });
  it('takes no facet of an unknown kind', () => {
    expect(facetOf('tool:W-40')).toEqual(['tool', 'W-40']);
    expect(facetOf('document:A:b')).toEqual(['document', 'A:b']);
    for (const bad of ['', 'tool', ':x', 'toString:x', 'colour:red']) expect(facetOf(bad)).toBeUndefined();
    expect(asked({ facet: ['colour:red', 'tool:W-40'] }).facet).toEqual(['tool:W-40']);
  });
  it('ends with the last moment of its last day', () => {
    const ms = (s: string | undefined) => new Date(s ?? '').getTime();
    expect(ms(moment('2026-11-30', true)) - ms(moment('2026-11-30'))).toBe(86_400_000);
    for (const bad of [undefined, '', '2026-13-01', 'yesterday']) expect(moment(bad)).toBeUndefined();
  });
});
