import { describe, expect, it } from 'vitest';
import type { Family, Specification } from '../../api/client';
import { withVariant } from './variants';

type Kin = Family['fasteners'][number];
const screws = { code: 'screws', target: 'torque', layout: { count: 3 } } as Kin;
const jack = { code: 'jack', target: 'shape', layout: { kind: 'pair', count: 2 } } as Kin;
const start = {
  version: 1,
  document: 'D',
  revision: 'A',
  groups: [{ bolts: 3, thread: 'M10', material: '8.8', lubricant: 'dry', target: { form: 'torque', nominal: 32 } }],
  figures: { runout: 0.2 },
} as unknown as Specification;

describe('another variant', () => {
  it('puts aside what the group of the other one was given, and brings it back', () => {
    const off = withVariant(start, { way: 'push_off' }, screws, jack);
    expect(off).toMatchObject({ variant: { way: 'push_off' }, document: 'D' });
    expect(off.groups).toMatchObject([
      { group: 'jack', bolts: 0, thread: '', target: { form: 'stated' } },
      { group: 'screws', bolts: 3, thread: 'M10', material: '8.8', target: { form: 'torque', nominal: 32 } },
    ]);
    expect(off.figures).toEqual({ runout: 0.2 });
    const back = withVariant(off, { way: 'fit' }, jack, screws);
    expect(back.groups).toMatchObject([
      { group: 'screws', bolts: 3, thread: 'M10', target: { nominal: 32 } },
      { group: 'jack' },
    ]);
    expect(back.groups).toHaveLength(2);
  });
  it('changes nothing but the answer where the same group stands first', () => {
    expect(withVariant(start, { way: 'fit' }, screws, screws)).toEqual({ ...start, variant: { way: 'fit' } });
  });
});
