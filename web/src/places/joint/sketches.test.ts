import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { facing } from './facing';
import { sketches } from './sketches';
import { sketchWords } from './sketchWords';
import { twoWays } from './twoWays';

const folder = '../core/procedure/families';
/** These are drawn from the plan itself. */
const fromPlan = ['cradle', 'numbering', 'layout', 'lubricate'];

describe('drawings of checks', () => {
  const used = new Set<string>();
  const faces = new Set<string>();
  for (const name of readdirSync(folder).filter((n) => n.endsWith('.json'))) {
    const family = JSON.parse(readFileSync(`${folder}/${name}`, { encoding: 'utf8' })) as {
      checks: { sketch?: string; kind: string }[];
      apart?: { checks: { sketch?: string; kind: string }[] | null };
    };
    for (const c of [...family.checks, ...(family.apart?.checks ?? [])]) {
      if (c.sketch) used.add(c.sketch);
      if (c.kind === 'orientation') faces.add(c.sketch ?? `${name}: a check without a drawing`);
    }
  }
  it('exist, with words, for every name that a procedure uses', () => {
    for (const name of used) {
      if (fromPlan.includes(name)) continue;
      expect(facing[name] ?? twoWays[name] ?? sketches[name], name).toBeTruthy();
      expect(sketchWords[name], name).toBeTruthy();
    }
  });
  it('show the wrong way beside the right one wherever a part can face two ways', () => {
    for (const name of faces) expect(facing[name] ?? twoWays[name], name).toBeTruthy();
  });
  it('are all used', () => {
    for (const name of [...Object.keys(twoWays), ...Object.keys(facing)]) expect(used.has(name), name).toBe(true);
  });
});
