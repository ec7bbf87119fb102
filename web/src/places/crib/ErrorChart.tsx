import type { Tool } from '../../api/client';
import { num, unitText } from '../../kit/numbers';

/** The errors of a certificate over the scale, inside the band of the class. */
export function ErrorChart({ tool }: { tool: Tool }) {
  const points = tool.points ?? [];
  if (points.length === 0 || !tool.accuracyPct) return null;
  const [w, h, left, top] = [392, 132, 46, 8];
  const band = h - 34;
  const sets = [...new Set(points.map((p) => p.set))].sort((a, b) => a - b);
  const lo = sets[0] ?? 0;
  const hi = sets.at(-1) ?? 1;
  const x = (v: number) => left + 22 + (hi === lo ? 0.5 : (v - lo) / (hi - lo)) * (w - left - 60);
  const y = (pct: number) => top + band / 2 - (pct / tool.accuracyPct) * (band / 2);
  const seen = new Map<number, number>();
  return (
    <>
      <div className="rule" style={{ marginTop: 12 }}>
        Error at the last calibration<span className="r">{unitText(tool.unit)}, shown less true</span>
      </div>
      <svg
        viewBox={`0 0 ${w} ${h}`}
        width="100%"
        style={{ maxWidth: w }}
        role="img"
        aria-label={`Errors in percent: ${points.map((p) => `at ${num(p.set)}: ${num((100 * (p.set - p.actual)) / p.actual, 1)}`).join(', ')}`}
      >
        <rect
          x={left}
          y={top}
          width={w - left - 8}
          height={band}
          style={{ fill: 'var(--ok-wash)', stroke: 'var(--ok)' }}
        />
        <path d={`M${left} ${y(0)}H${w - 8}`} style={{ stroke: 'var(--ink)', strokeWidth: 1 }} />
        {[tool.accuracyPct, 0, -tool.accuracyPct].map((p) => (
          <text
            key={p}
            x={left - 6}
            y={y(p) + 5}
            textAnchor="end"
            style={{ font: '600 14px var(--mono)', fill: 'var(--ink-2)' }}
          >
            {p > 0 ? '+' : ''}
            {num(p)} %
          </text>
        ))}
        {sets.map((s) => (
          <g key={s}>
            <path d={`M${x(s)} ${top + band}v6`} style={{ stroke: 'var(--ink)' }} />
            <text x={x(s)} y={h - 4} textAnchor="middle" style={{ font: '600 14px var(--mono)', fill: 'var(--ink-2)' }}>
              {num(s)}
            </text>
          </g>
        ))}
        {points.map((p) => {
          const n = seen.get(p.set) ?? 0;
          seen.set(p.set, n + 1);
          const [cx, cy] = [x(p.set) + (n - 2) * 8, y((100 * (p.set - p.actual)) / p.actual)];
          return (
            <path
              key={`${p.set} ${n.toString()}`}
              d={p.anticlockwise ? `M${cx - 4} ${cy}h8` : `M${cx - 4} ${cy}h8M${cx} ${cy - 4}v8`}
              style={{ stroke: 'var(--ink)', strokeWidth: 1.8 }}
            />
          );
        })}
      </svg>
      {points.some((p) => p.anticlockwise) && <p className="dim">Bars: anticlockwise.</p>}
    </>
  );
}
