import type { Plan } from '../../api/client';
import { firstOf, GroupRosette, groupOf } from '../../rosette/GroupRosette';
import { Rosette } from '../../rosette/Rosette';
import { facing } from './facing';
import { sketches } from './sketches';
import { sketchWords } from './sketchWords';
import { twoWays } from './twoWays';

const bare = (position: number, number: number, state = 'not_yet') => ({
  position,
  number,
  name: String(number),
  state,
  torqueNm: 0,
  measured: false,
  fraction: 0,
  marks: [],
});

/** Small drawings for what words alone get wrong: which way a part faces, where the cradle is, how bolts are numbered. */
export function Sketch({ name, plan, group }: { name: string; plan: Plan; group?: string | undefined }) {
  if (name === 'cradle' && !firstOf(plan).layout.kind) {
    return (
      <figure className="sketch">
        <Rosette
          size={200}
          count={firstOf(plan).layout.count}
          startDeg={firstOf(plan).layout.startDeg}
          numbers={plan.loading.map((_, i) => plan.loading.indexOf(i + 1) + 1)}
          label={`Loading order: first positions ${plan.cradle.join(' and ')}`}
          fasteners={plan.chalk.map((number, i) =>
            bare(i + 1, number, plan.cradle.includes(i + 1) ? 'done' : 'not_yet'),
          )}
        />
        <figcaption className="dim">
          Numbers: the order in which bolts go in by hand. The two dark ones at the bottom are the cradle; the gasket
          drops in on them and is lifted to the middle.
        </figcaption>
      </figure>
    );
  }
  if (name === 'numbering' || name === 'layout' || name === 'cradle') {
    const g = groupOf(plan, group);
    return (
      <figure className="sketch">
        <GroupRosette
          size={200}
          group={g}
          chalk={plan.chalk}
          label={`Numbers as chalked: ${plan.chalk.slice(g.offset ?? 0, (g.offset ?? 0) + g.layout.count).join(', ')}`}
          fasteners={plan.chalk.map((number, i) => bare(i + 1, number))}
        />
        <figcaption className="dim">
          Seen from {g.layout.seenFrom || 'the tool’s side'}, {g.layout.anticlockwise ? 'anticlockwise' : 'clockwise'}{' '}
          from number 1.
        </figcaption>
      </figure>
    );
  }
  if (name === 'lubricate') {
    return (
      <svg
        viewBox="0 0 300 120"
        width="300"
        role="img"
        aria-label="Lubricant goes on the thread and on the face of the nut that turns, not on the gasket"
      >
        <rect x="10" y="20" width="26" height="80" style={{ fill: 'url(#hCut)', stroke: 'var(--ink)' }} />
        <rect x="36" y="30" width="8" height="60" style={{ fill: 'var(--film-3)', stroke: 'var(--ink)' }} />
        <rect
          x="52"
          y="34"
          width="38"
          height="52"
          style={{ fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.5 }}
        />
        <rect
          x="10"
          y="48"
          width="130"
          height="24"
          style={{ fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.4 }}
        />
        <path d="M48 34V86" style={{ stroke: 'var(--ok)', strokeWidth: 5 }} />
        <path d="M90 46H140M90 74H140" style={{ stroke: 'var(--ok)', strokeWidth: 5 }} />
        <path d="M48 30L70 12M116 44L150 26" style={{ stroke: 'var(--ink)' }} />
        <text x="74" y="14" style={{ font: '600 14px var(--text)', fill: 'var(--ink)' }}>
          face of the nut
        </text>
        <text x="154" y="30" style={{ font: '600 14px var(--text)', fill: 'var(--ink)' }}>
          thread
        </text>
        <text x="150" y="104" style={{ font: '600 14px var(--text)', fill: 'var(--ink-2)' }}>
          none on the gasket
        </text>
      </svg>
    );
  }
  const drawing = facing[name] ?? twoWays[name] ?? sketches[name];
  if (!drawing) return null;
  return (
    <svg className="sketch" viewBox="0 0 330 130" width="330" role="img" aria-label={sketchWords[name] ?? name}>
      {drawing}
    </svg>
  );
}
