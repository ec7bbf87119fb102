import type { Specification } from '../../api/client';
import { firstDemand } from '../../kit/demand';
import { num } from '../../kit/numbers';

const balloons: [number, string, number, number, number, number][] = [
  [1, 'bolt', 34, 50, 92, 66],
  [2, 'washer', 34, 20, 127, 48],
  [3, 'nut', 386, 40, 316, 62],
  [4, 'gasket', 150, 190, 210, 160],
  [5, 'lubricant: thread and nut face', 386, 96, 300, 104],
];

/** A section through one bolt, so that everyone means the same part by the same name. */
export function BoltSection({ spec }: { spec: Specification }) {
  const f = firstDemand(spec);
  return (
    <figure style={{ margin: '6px 0 2px' }}>
      <svg
        viewBox="0 0 424 206"
        width="100%"
        style={{ maxWidth: 424 }}
        role="img"
        aria-label="Section through one bolt: bolt, washers, nut, gasket between two flanges"
      >
        <path d="M142 18H207V168H142Z" style={{ fill: 'url(#hCut)', stroke: 'var(--ink)', strokeWidth: 1.4 }} />
        <path d="M213 18H278V168H213Z" style={{ fill: 'url(#hCutB)', stroke: 'var(--ink)', strokeWidth: 1.4 }} />
        <rect x="208" y="120" width="4" height="48" style={{ fill: 'var(--ink)' }} />
        <rect x="142" y="61" width="136" height="62" style={{ fill: 'var(--film)', stroke: 'var(--ink)' }} />
        <rect
          x="132"
          y="65"
          width="226"
          height="54"
          style={{ fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.4 }}
        />
        {Array.from({ length: 23 }, (_, i) => 218 + i * 6).map((x) => (
          <path key={x} d={`M${x} 65l3 4M${x} 119l3 -4`} style={{ stroke: 'var(--ink)', strokeWidth: 0.9 }} />
        ))}
        <path d="M214 69H358M214 115H358" style={{ stroke: 'var(--ink)', strokeWidth: 0.8 }} />
        <path d="M14 92H386" style={{ stroke: 'var(--ink-3)', strokeWidth: 1, strokeDasharray: '14 4 3 4' }} />
        <path
          d="M98 50H132V134H98L93 128V56Z"
          style={{ fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.5 }}
        />
        <path d="M93 72H132M93 112H132" style={{ stroke: 'var(--ink)' }} />
        <rect
          x="132"
          y="42"
          width="10"
          height="100"
          style={{ fill: 'var(--film-3)', stroke: 'var(--ink)', strokeWidth: 1.2 }}
        />
        <rect
          x="278"
          y="42"
          width="10"
          height="100"
          style={{ fill: 'var(--film-3)', stroke: 'var(--ink)', strokeWidth: 1.2 }}
        />
        <rect
          x="288"
          y="50"
          width="44"
          height="84"
          style={{ fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.5 }}
        />
        <path d="M288 72H332M288 112H332" style={{ stroke: 'var(--ink)' }} />
        {balloons.map(([n, name, x, y, tx, ty]) => (
          <g key={n}>
            <title>{name}</title>
            <path d={`M${tx} ${ty}L${x} ${y}`} style={{ stroke: 'var(--ink)' }} />
            <circle cx={tx} cy={ty} r="2.4" style={{ fill: 'var(--ink)' }} />
            <circle cx={x} cy={y} r="12" style={{ fill: 'var(--film)', stroke: 'var(--ink)', strokeWidth: 1.3 }} />
            <text x={x} y={y + 5.5} textAnchor="middle" style={{ font: '700 15px var(--mono)', fill: 'var(--ink)' }}>
              {n}
            </text>
          </g>
        ))}
      </svg>
      <figcaption className="dim" style={{ fontSize: 14 }}>
        1 {f.thread} {f.material}, {f.bolts} off · 2 washers, {2 * f.bolts} · 3 nuts, {f.bolts} · 4{' '}
        {spec.gasket || 'gasket to be supplied'} · 5 {f.lubricant}
        {f.lengthMm ? ` · bolt ${num(f.lengthMm)} mm` : ''}
      </figcaption>
    </figure>
  );
}
