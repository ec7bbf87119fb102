import { describe, expect, it } from 'vitest';
import type { ProcedureCheck } from '../../api/client';
import { doneWord, isPressure, markGoes, toolKinds, turnWords } from './hand';
import { limitText } from './limits';

describe('a turn in words', () => {
  it.each([
    [90, 'quarter'],
    [360, 'one full turn, 6 flats'],
    [450, 'one turn and a quarter'],
    [37, '37°'],
  ])('%i degrees', (deg, words) => {
    expect(turnWords(deg)).toContain(words);
  });

  it.each([
    [90, 'Mark goes clockwise from 6 to 9 o’clock'],
    [180, 'Mark goes clockwise from 6 to 12 o’clock'],
    [360, 'Mark comes back to 6 o’clock'],
    [720, 'Mark comes back to 6 o’clock, 2 times'],
    [450, 'Mark goes clockwise from 6, past 6, to 9 o’clock'],
    [45, 'Mark goes clockwise from 6 to 7.5 o’clock'],
  ])('where the mark comes to by %i degrees', (deg, words) => {
    expect(markGoes(deg)).toBe(words);
  });
});

describe('what a pass asks for', () => {
  it('sets a tool for torque only', () => {
    for (const kind of ['stage', 'check', 'verify', 'turns']) expect(toolKinds.has(kind)).toBe(true);
    for (const kind of ['hand', 'turn', 'shape', 'effort', 'stretch', 'leave', 'undo'])
      expect(toolKinds.has(kind)).toBe(false);
  });

  it('has a word for every way of being done', () => {
    for (const w of [
      'clicked',
      'stalled',
      'run_down',
      'reached',
      'by_hand',
      'turned',
      'shaped',
      'measured',
      'left',
      'undone',
    ])
      expect(doneWord[w]).toBeTruthy();
  });

  it('tells a pressure from a torque', () => {
    expect(['bar', 'MPa', 'psi'].every(isPressure)).toBe(true);
    expect(['N_m', 'ft_lbf', ''].some(isPressure)).toBe(false);
  });
});

describe('the limit of a check in words', () => {
  const check = (c: Partial<ProcedureCheck>) => limitText({ unit: 'mm', ...c } as ProcedureCheck);
  it.each([
    [{ criterion: 'window', low: 20, limit: 32 }, '20 to 32 mm'],
    [{ criterion: 'minimum', low: 110 }, 'At least 110 mm'],
    [{ criterion: 'remain', low: 1 }, 'At least 1 mm everywhere'],
    [{ criterion: 'remain' }, 'Something must remain everywhere'],
    [{ criterion: 'count', low: 8 }, 'Exactly 8'],
    [{ criterion: 'information' }, 'For information, not judged'],
    [{ criterion: 'roundness', limit: 1.5 }, 'At most 1.5 % of the mean'],
    [{ criterion: 'flush', limit: 0.2 }, 'Flush within 0.2 mm'],
    [{ criterion: 'equal', limit: 5 }, 'May differ by 5 mm'],
    [{ criterion: 'spread', limit: 0.2 }, 'Limit 0.2 mm'],
  ])('%o', (c, words) => {
    expect(check(c as Partial<ProcedureCheck>)).toBe(words);
  });
});
