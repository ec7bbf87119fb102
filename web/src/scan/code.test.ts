import { expect, test } from 'vitest';
import { readCode } from './code';

const here = 'dynacor.tarn-skerry.example';

test('codes of labels lead to their things, with an address of the site or without one', () => {
  for (const base of [`https://${here}`, 'dynacor:', 'DYNACOR:']) {
    expect(readCode(`${base}/joints/SW-111%2F2?record=TS-1`, here)).toEqual({ kind: 'joint', tag: 'SW-111/2' });
    expect(readCode(`${base}/scan?person=0190`, here)).toEqual({ kind: 'person', id: '0190' });
    expect(readCode(`${base}/scan?batch=B+7%2F1&lubricant=moly&useBy=2027-06-30`, here)).toEqual({
      kind: 'tin',
      lubricant: 'moly',
      batch: 'B 7/1',
      useBy: '2027-06-30',
    });
  }
  expect(readCode('DYNACOR TS-2026-00001 0f0f', here)).toEqual({ kind: 'record', number: 'TS-2026-00001' });
});

test('a code of another site leads nowhere here', () => {
  expect(readCode('https://elsewhere.example/joints/SW-111', here)).toEqual({
    kind: 'foreign',
    host: 'elsewhere.example',
  });
});

test('what is no code of ours is text', () => {
  for (const t of ['W-31', 'https://maker.example/moly', 'dynacor:/joints/', 'dynacor:/scan', 'javascript:alert(1)'])
    expect(readCode(` ${t} `, here)).toEqual({ kind: 'text', text: t });
});
