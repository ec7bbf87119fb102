import { describe, expect, it } from 'vitest';
import { entries, heads, type Library, rows } from './shelves';

const band = { low: 0.1, typ: 0.12, high: 0.15 };
const library = {
  lubricants: [
    {
      code: 'L-7',
      name: 'Own paste',
      condition: 'moly_paste',
      muThread: band,
      muHead: band,
      k: band,
      source: 'site_measured',
      version: 2,
      suits: ['drinking_water'],
    },
    {
      code: 'hdg_dry',
      name: 'Galvanised, dry',
      condition: 'hdg_dry',
      muThread: band,
      muHead: band,
      k: band,
      source: 'library',
      notForTorqueControl: true,
      note: 'wide',
    },
  ],
  materials: [{ grade: '8.8', system: 'iso', yieldMPa: 660, tensileMPa: 830, maxMm: 39, source: 'ISO 898-1' }],
  gaskets: [{ code: 'g', name: 'Ring', targetMPa: 70, maxMPa: 140, seatingMPa: 40, operatingMPa: 20, source: 'maker' }],
  threads: [
    {
      text: 'M24',
      series: 'coarse',
      diameterMm: 24,
      pitchMm: 3,
      stressAreaMm2: 352.5,
      d2Mm: 22.051,
      d3Mm: 20.319,
      acrossFlatsMm: 36,
    },
    {
      text: '1 1/8-8 8UN',
      series: '8UN',
      diameterMm: 28.575,
      pitchMm: 3.175,
      stressAreaMm2: 509.7,
      d2Mm: 26.5,
      d3Mm: 24.7,
      acrossFlatsMm: 0,
    },
  ],
  nuts: [
    { thread: 'm24', acrossFlatsMm: 0, bearingOuterMm: 34, holeMm: 26, source: 'measured', version: 1 },
    { thread: 'M33x2', acrossFlatsMm: 50, bearingOuterMm: 0, holeMm: 0, source: 'drawing', version: 3 },
  ],
  services: ['general', 'oxygen', 'drinking_water'],
} as unknown as Library;
const metric = { inch: false };

describe('shelves of the Library', () => {
  it.each(['lubricants', 'materials', 'gaskets', 'threads'] as const)('%s: a cell under every head', (shelf) => {
    for (const r of rows(shelf, library, metric)) expect(r.cells).toHaveLength(heads[shelf].names.length);
    expect(Math.max(...heads[shelf].figures)).toBeLessThan(heads[shelf].names.length);
  });

  it('tells the version of the site’s own, and what is not for torque control', () => {
    const [own, dry] = rows('lubricants', library, metric);
    expect(own?.version).toBe(2);
    expect(own?.cells).toContain('drinking water');
    expect(dry?.version).toBe(0);
    expect(dry?.flag).toBe('not for torque control');
    expect(dry?.note).toBe('wide');
  });

  it('shows inch and ksi when asked, and names each unit', () => {
    expect(rows('materials', library, metric)[0]?.cells).toContain('660 MPa');
    expect(rows('materials', library, { inch: true })[0]?.cells).toContain('95.7 ksi');
    expect(rows('materials', library, metric)[0]?.cells).toContain('not stated');
    expect(rows('threads', library, { inch: true }).find((r) => r.cells[0] === 'M24')?.cells).toContain('0.5464 in²');
  });

  it('joins what was measured on site to its thread, whatever its spelling, and keeps sizes that no table has', () => {
    const list = rows('threads', library, metric);
    const m24 = list.find((r) => r.cells[0] === 'M24');
    expect(m24?.version).toBe(1);
    expect(m24?.code).toBe('m24');
    expect(m24?.cells).toContain('34 mm');
    expect(list.filter((r) => String(r.cells[0]).toLowerCase() === 'm24')).toHaveLength(1);
    expect(list.find((r) => r.cells[0] === 'M33x2')?.version).toBe(3);
    expect(list.findIndex((r) => r.version === 0)).toBe(2);
  });

  it('offers only the built-in conditions and real services in the form', () => {
    const list = entries('lubricants', library);
    expect(list.find((e) => e.key === 'condition')?.choices).toEqual([['hdg_dry', 'Galvanised, dry']]);
    expect(list.find((e) => e.key === 'suits')?.choices?.map(([c]) => c)).toEqual(['oxygen', 'drinking_water']);
    expect(list.filter((e) => e.field === 'k').map((e) => e.key)).toEqual(['k.low', 'k.typ', 'k.high']);
  });
});
