import type { CheckState } from '../../api/client';
import { num } from '../../kit/numbers';

export function MismatchView({ m }: { m: NonNullable<CheckState['mismatch']> }) {
  const end = Math.max(m.plannedKN, m.foundKN) * 1.18;
  const x = (v: number) => (v / end) * 352;
  const over = m.foundKN > m.plannedKN;
  return (
    <>
      <table className="t" style={{ margin: '8px 0' }}>
        <thead>
          <tr>
            <th>
              <span className="sr">Which</span>
            </th>
            <th>Lubricant</th>
            <th className="n">K</th>
          </tr>
        </thead>
        <tbody>
          <tr>
            <td>Plan</td>
            <td>{m.plannedName}</td>
            <td className="n">{num(m.plannedK, 3)}</td>
          </tr>
          <tr>
            <td>Found</td>
            <td>
              <b>{m.foundName}</b>
            </td>
            <td className="n hld">{num(m.foundK, 3)}</td>
          </tr>
        </tbody>
      </table>
      <p style={{ fontSize: 17, lineHeight: 1.3 }}>
        <b>{m.sentence}</b>
      </p>
      <svg
        viewBox="0 0 352 116"
        width="100%"
        style={{ maxWidth: 352, overflow: 'visible', marginTop: 6 }}
        role="img"
        aria-label={m.sentence}
      >
        <path d={`M${x(m.plannedKN)} 2V96`} style={{ stroke: 'var(--ok)', strokeWidth: 1.5 }} />
        <text y="16" style={{ font: '600 14px var(--text)', fill: 'var(--ink-2)' }}>
          as planned
        </text>
        <rect y="22" width={x(m.plannedKN)} height="16" style={{ fill: 'var(--ink)' }} />
        <text y="60" style={{ font: '600 14px var(--text)', fill: 'var(--ink-2)' }}>
          as found
        </text>
        <path
          d={over ? `M0 66H${x(m.foundKN) - 9}l9 8l-9 8H0Z` : `M0 66H${x(m.foundKN)}l-8 8l8 8H0Z`}
          style={{
            fill: over ? 'url(#hRej)' : 'url(#hHold)',
            stroke: over ? 'var(--rej)' : 'var(--hold-edge)',
            strokeWidth: 1.2,
          }}
        />
        <text
          x={x(m.foundKN)}
          y="112"
          textAnchor="middle"
          style={{ font: '700 15px var(--mono)', fill: 'var(--hold-ink)' }}
        >
          {num(m.foundKN, 0)}
        </text>
        <text
          x={x(m.plannedKN) + (over ? -6 : 6)}
          y="112"
          textAnchor={over ? 'end' : 'start'}
          style={{ font: '700 15px var(--mono)', fill: 'var(--ink)' }}
        >
          {Math.abs(x(m.foundKN) - x(m.plannedKN)) > 34 ? `${num(m.plannedKN, 0)} kN` : ''}
        </text>
      </svg>
      <p className="dim">
        A plan with {m.foundName} would be about <span className="m">{num(m.restoringNm, 0)}</span> N·m; an engineer
        makes it in Read.
      </p>
    </>
  );
}
