import type { Plan } from '../../api/client';
import { Rosette } from '../../rosette/Rosette';

/** Small drawings for what words alone get wrong: where the cradle is, which side is lubricated, how bolts are numbered. */
export function Sketch({ name, plan }: { name: string; plan: Plan }) {
  if (name === 'numbering' || name === 'cradle') {
    const cradle = name === 'cradle';
    return (
      <figure style={{ margin: '6px 0', display: 'flex', gap: 14, alignItems: 'center' }}>
        <Rosette
          size={200}
          count={plan.layout.count}
          startDeg={plan.layout.startDeg}
          numbers={cradle ? plan.loading.map((_, i) => plan.loading.indexOf(i + 1) + 1) : plan.chalk}
          label={cradle ? `Loading order: first positions ${plan.cradle.join(' and ')}` : `Numbers as chalked: ${plan.chalk.join(', ')}`}
          fasteners={plan.chalk.map((number, i) => ({
            position: i + 1,
            number,
            state: cradle && plan.cradle.includes(i + 1) ? 'done' : 'not_yet',
            torqueNm: 0,
            measured: false,
            fraction: 0,
            marks: [],
          }))}
        />
        <figcaption className="dim" style={{ fontSize: 15 }}>
          {cradle
            ? 'Numbers: the order in which bolts go in by hand. The two dark ones at the bottom are the cradle; the gasket drops in on them and is lifted to the middle.'
            : `Seen from ${plan.layout.seenFrom || 'the tool’s side'}, clockwise, bolt 1 right of the top.`}
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
        <rect x="52" y="34" width="38" height="52" style={{ fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.5 }} />
        <rect x="10" y="48" width="130" height="24" style={{ fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.4 }} />
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
  return null;
}
