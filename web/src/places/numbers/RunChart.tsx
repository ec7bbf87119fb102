import type { Numbers } from '../../api/client';
import { num } from '../../kit/numbers';

const wide = 560;
const tall = 190;
const left = 58;

const signals = { outer: 'past an outer line', one_side: 'one of eight or more on one side' };

/** A row day by day: a circle a day; a square is part of a run on one side, a diamond past an outer line. */
export function RunChart({ chart: c }: { chart: Numbers['chart'] }) {
  const all = [...c.points.map((p) => p.mean), c.middle, c.low ?? c.middle, c.high ?? c.middle];
  const low = Math.min(...all);
  const top = Math.max(...all);
  const room = (top - low || 1) * 0.12;
  const x = (i: number) => left + ((i + 0.5) / c.points.length) * (wide - left - 8);
  const y = (v: number) => 8 + ((top + room - v) / (top - low + 2 * room)) * (tall - 36);
  const lines = [
    [c.high, true],
    [c.middle, false],
    [c.low, true],
  ] as const;
  return (
    <>
      <svg
        viewBox={`0 0 ${wide} ${tall}`}
        width="100%"
        role="img"
        aria-label={`${c.name}, ${c.points.length} days. ${c.says}`}
      >
        {lines.map(([v, dashed]) =>
          v === undefined ? null : (
            <g key={`${v}${dashed}`}>
              <path
                d={`M${left} ${y(v)}H${wide}`}
                stroke="var(--ok)"
                strokeWidth="1.6"
                strokeDasharray={dashed ? '7 4' : undefined}
              />
              <text x={left - 8} y={y(v) + 5} textAnchor="end" className="axis">
                {num(v, 1)} %
              </text>
            </g>
          ),
        )}
        <path
          d={c.points.map((p, i) => `${i ? 'L' : 'M'}${x(i)} ${y(p.mean)}`).join('')}
          fill="none"
          stroke="var(--ink)"
          strokeWidth="1.2"
        />
        {c.points.map((p, i) => (
          <g key={p.day} transform={`translate(${x(i)} ${y(p.mean)})`} stroke="var(--ink)" strokeWidth="1.8">
            {p.signal === 'outer' ? (
              <path d="M0 -7L7 0L0 7L-7 0Z" fill="var(--rej)" />
            ) : p.signal === 'one_side' ? (
              <rect x="-4.5" y="-4.5" width="9" height="9" fill="var(--hold)" />
            ) : (
              <circle r="4" fill="var(--film-2)" />
            )}
          </g>
        ))}
        {[0, Math.floor((c.points.length - 1) / 2), c.points.length - 1]
          .filter((i, at, list) => list.indexOf(i) === at)
          .map((i) => (
            <text key={i} x={Math.min(Math.max(x(i), 40), wide - 40)} y={tall - 6} textAnchor="middle" className="axis">
              {c.points[i]?.day}
            </text>
          ))}
      </svg>
      <details>
        <summary>As a table</summary>
        <table className="t">
          <thead>
            <tr>
              <th>Day</th>
              <th className="n">Mean, %</th>
              <th className="n">Pulls</th>
              <th>Signal</th>
            </tr>
          </thead>
          <tbody>
            {c.points.map((p) => (
              <tr key={p.day}>
                <td>{p.day}</td>
                <td className="n">{num(p.mean, 2)}</td>
                <td className="n">{p.n}</td>
                <td>{p.signal ? signals[p.signal] : ''}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </>
  );
}
