import { digits } from '../../kit/numbers';
import type { Overlay } from './ask';

const [size, left, foot] = [300, 46, 34];

/** Measured against expected: one mark a bolt, on the line where both are alike; those that do not fit are named and framed. */
export function Laid({ o }: { o: Overlay }) {
  const most = Math.max(...o.bolts.flatMap((b) => [b.measured, b.expected]), 1e-9) * 1.08;
  const x = (v: number) => left + (v / most) * (size - left - 8);
  const y = (v: number) => size - foot - (v / most) * (size - foot - 8);
  const ticks = [0, 0.25, 0.5, 0.75, 1].map((t) => (t * most) / 1.08);
  return (
    <div className="lab-laid">
      <svg
        width={size}
        height={size}
        role="img"
        aria-label="Measured against expected, bolt by bolt; the same stands in the table"
      >
        <path d={`M${left} 8V${size - foot}H${size - 8}`} className="rule" />
        <path d={`M${x(0)} ${y(0)}L${x(most)} ${y(most)}`} className="alike" />
        {ticks.map((t) => (
          <g key={t}>
            <path d={`M${left - 4} ${y(t)}h4M${x(t)} ${size - foot}v4`} className="rule" />
            <text x={left - 7} y={y(t) + 4} textAnchor="end">
              {digits(t, 2)}
            </text>
            <text x={x(t)} y={size - foot + 16} textAnchor="middle">
              {digits(t, 2)}
            </text>
          </g>
        ))}
        <text x={size - 8} y={size - 3} textAnchor="end">
          expected, {o.unit}
        </text>
        <text x={left + 6} y={18}>
          measured, {o.unit}
        </text>
        {o.bolts.map((b) => (
          <g key={b.bolt} className={b.misfit ? 'misfit' : ''}>
            {b.misfit ? (
              <rect x={x(b.expected) - 7} y={y(b.measured) - 7} width="14" height="14" />
            ) : (
              <circle cx={x(b.expected)} cy={y(b.measured)} r="5" />
            )}
            {b.misfit && (
              <text x={x(b.expected) + 10} y={y(b.measured) + 4}>
                {b.bolt}
              </text>
            )}
          </g>
        ))}
      </svg>
      <div className="scroll-x">
        <table className="t">
          <thead>
            <tr>
              <th>Bolt</th>
              <th className="n">Measured, {o.unit}</th>
              <th className="n">Expected, {o.unit}</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {o.bolts.map((b) => (
              <tr key={b.bolt}>
                <td>{b.bolt}</td>
                <td className="n">{digits(b.measured, 3)}</td>
                <td className="n">{digits(b.expected, 3)}</td>
                <td>{b.misfit ? 'does not fit' : ''}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}
