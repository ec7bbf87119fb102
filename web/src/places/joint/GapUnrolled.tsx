import { round2 } from '../../rosette/geometry';

/** The gap all the way round, unrolled, with the band it may lie in. */
export function GapUnrolled({ values, limit }: { values: number[]; limit: number }) {
  const W = 700;
  const lo = Math.min(...values);
  const hi = Math.max(...values);
  const mid = (lo + hi) / 2;
  const half = Math.max(limit, hi - lo) * 0.85 || 0.1;
  const y = (v: number) => 20 + ((mid + half - v) / (2 * half)) * 108;
  const x0 = 54;
  const x1 = W - 16;
  const n = values.length;
  const x = (i: number) => x0 + 28 + (i * (x1 - x0 - 56)) / n;
  const closed = [...values, values[0] ?? 0];
  const over = hi - lo > limit + 1e-9;
  return (
    <svg
      viewBox={`0 0 ${W} 166`}
      width="100%"
      style={{ maxWidth: W }}
      role="img"
      aria-label={`Gap at ${n} stations, mm: ${values.join(', ')}. Spread ${round2(hi - lo)} of ${limit}.`}
    >
      <rect
        x={x0}
        y={y(mid + limit / 2)}
        width={x1 - x0}
        height={y(mid - limit / 2) - y(mid + limit / 2)}
        style={{ fill: 'var(--ok-wash)', stroke: 'var(--ok)', strokeWidth: 1 }}
      />
      {[mid + limit / 2, mid, mid - limit / 2].map((v) => (
        <g key={v}>
          <path d={`M${x0 - 6} ${y(v)}H${x0}`} style={{ stroke: 'var(--ink)' }} />
          <text
            x={x0 - 9}
            y={y(v) + 5}
            textAnchor="end"
            style={{ font: '600 14px var(--mono)', letterSpacing: '-.04em', fill: 'var(--ink-2)' }}
          >
            {v.toFixed(2)}
          </text>
        </g>
      ))}
      <path d={`M${x0} 16V136H${x1}`} style={{ fill: 'none', stroke: 'var(--ink)', strokeWidth: 1.2 }} />
      <path
        d={`M${closed.map((v, i) => `${round2(x(i))} ${round2(y(v))}`).join('L')}`}
        style={{ fill: 'none', stroke: over ? 'var(--rej)' : 'var(--ink)', strokeWidth: 1.6 }}
      />
      {closed.map((v, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: stations keep their place
        <g key={i}>
          <circle cx={x(i)} cy={y(v)} r="5" style={{ fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 2 }} />
          <text
            x={x(i)}
            y={y(v) - 10}
            textAnchor="middle"
            style={{ font: '700 15px var(--mono)', letterSpacing: '-.04em', fill: 'var(--ink)' }}
          >
            {v.toFixed(2)}
          </text>
          <text x={x(i)} y="156" textAnchor="middle" style={{ font: '600 15px var(--text)', fill: 'var(--ink-2)' }}>
            {String.fromCharCode(97 + (i % n))}
          </text>
        </g>
      ))}
    </svg>
  );
}
