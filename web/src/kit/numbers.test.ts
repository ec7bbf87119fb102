import { describe, expect, it } from 'vitest';
import { besideTorque, bothTorques, clock, num, unitText, when } from './numbers';

describe('numbers as written', () => {
  it.each([
    [3.1, 2, '3.1'],
    [3.104, 2, '3.1'],
    [3.125, 0, '3'],
    [0.04, 2, '0.04'],
    [-0.001, 2, '0'],
    [1500, 2, '1500'],
  ])('%d with up to %d decimals', (v, d, text) => expect(num(v, d)).toBe(text));

  it('names both units of a torque', () => {
    expect(bothTorques(420, { primaryTorque: 'N_m', secondaryTorque: 'ft_lbf' })).toBe('420 N·m (310 ft·lbf)');
    expect(bothTorques(420, { primaryTorque: 'kgf_m', secondaryTorque: 'N_m' })).toBe('43 kgf·m (420 N·m)');
    expect(bothTorques(1.3558179483314, { primaryTorque: 'in_lbf', secondaryTorque: 'ft_lbf' })).toBe(
      '12 in·lbf (1 ft·lbf)',
    );
    expect(besideTorque(100, { primaryTorque: 'N_m', secondaryTorque: 'ft_lbf' })).toBe('(74 ft·lbf)');
  });

  it('writes a unit as the trade does, and an unknown one as it came', () => {
    expect(unitText('ft_lbf')).toBe('ft·lbf');
    expect(unitText('bar')).toBe('bar');
  });

  it('writes nothing for a time that is not there', () => {
    expect(clock(undefined)).toBe('');
    expect(when(undefined)).toBe('');
  });

  it('leaves the day out today and gives it otherwise', () => {
    expect(when(new Date().toISOString())).toMatch(/^\d\d:\d\d$/);
    expect(when('2020-03-04T12:00:00Z')).toMatch(/^4 Mar \d\d:\d\d$/);
  });
});
