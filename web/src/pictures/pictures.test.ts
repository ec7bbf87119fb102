import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { pictures } from './FamilyPicture';

const folder = '../core/procedure/families';
const codes = readdirSync(folder)
  .filter((n) => n.endsWith('.json'))
  .map((n) => (JSON.parse(readFileSync(`${folder}/${n}`, { encoding: 'utf8' })) as { code: string }).code);

describe('pictures of families', () => {
  it('are there for every family that is built in, and for no other', () => {
    expect(Object.keys(pictures).sort()).toEqual([...codes].sort());
  });
  for (const [code, picture] of Object.entries(pictures)) {
    it(`${code} numbers its parts, says what each does in few words, and keeps inside its frame`, () => {
      expect(picture.parts.length).toBeGreaterThanOrEqual(5);
      for (const x of picture.parts) {
        expect(x.does.split(' ').length, x.does).toBeLessThanOrEqual(8);
        for (const [px, py] of [x.at, x.to]) {
          expect(px).toBeGreaterThanOrEqual(0);
          expect(px).toBeLessThanOrEqual(356);
          expect(py).toBeGreaterThanOrEqual(8);
          expect(py).toBeLessThanOrEqual(picture.height);
        }
      }
      for (const [i, x] of picture.parts.entries()) {
        for (const y of picture.parts.slice(i + 1)) {
          expect(Math.hypot(x.at[0] - y.at[0], x.at[1] - y.at[1]), `${x.name}, ${y.name}`).toBeGreaterThan(24);
        }
      }
      for (const s of picture.shapes) if (s.part) expect(picture.parts[s.part - 1]).toBeTruthy();
    });
  }
});
