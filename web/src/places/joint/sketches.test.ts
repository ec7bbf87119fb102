import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { sketches } from './sketches';
import { sketchWords } from './sketchWords';
import { twoWays } from './twoWays';

const folder = '../core/procedure/families';
/** These are drawn from the plan itself. */
const fromPlan = ['cradle', 'numbering', 'layout', 'lubricate'];

describe('drawings of checks', () => {
  const used = new Set<string>();
  for (const name of readdirSync(folder).filter((n) => n.endsWith('.json'))) {
    const family = JSON.parse(readFileSync(`${folder}/${name}`, { encoding: 'utf8' })) as {
      checks: { sketch?: string }[];
    };
    for (const c of family.checks) if (c.sketch) used.add(c.sketch);
  }
  it('exist, with words, for every name that a procedure uses', () => {
    for (const name of used) {
      if (fromPlan.includes(name)) continue;
      expect(sketches[name] ?? twoWays[name], name).toBeTruthy();
      expect(sketchWords[name], name).toBeTruthy();
    }
  });
  it('are all used', () => {
    for (const name of Object.keys(twoWays)) expect(used.has(name), name).toBe(true);
  });
});
