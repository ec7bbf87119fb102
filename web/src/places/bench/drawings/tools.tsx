import { digits, figureOf } from '../../../kit/numbers';
import type { Facts } from './index';

const line = (w = 1.4) => ({ fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: w });
const label = { font: '600 14px var(--mono)', fill: 'var(--ink)' };
const dim = { stroke: 'var(--ink-3)', strokeWidth: 1 };

/** A wrench from above with its adapter at the true angle; lengths to scale. */
export function Adapter({ num }: Facts) {
  const L = num('L') ?? 0.4;
  const E = num('E') ?? 0.06;
  const theta = ((num('θ') ?? 0) * Math.PI) / 180;
  const k = 190 / Math.max(L, 0.05);
  const e = Math.max(14, Math.min(90, E * k));
  const [sx, sy] = [110, 120]; // the square of the wrench
  const nut = [sx - e * Math.cos(theta), sy - e * Math.sin(theta)] as const;
  const hand = sx + Math.min(190, L * k);
  return (
    <>
      <path d={`M${sx} ${sy - 7}H${hand - 50}V${sy + 7}H${sx}Z`} style={line()} />
      <rect x={hand - 50} y={sy - 10} width="66" height="20" rx="3" style={{ ...line(), fill: 'var(--film-3)' }} />
      <path d={`M${sx} ${sy}L${nut[0]} ${nut[1]}`} style={{ stroke: 'var(--ink)', strokeWidth: 13 }} />
      <path d={`M${sx} ${sy}L${nut[0]} ${nut[1]}`} style={{ stroke: 'var(--film-3)', strokeWidth: 10 }} />
      <circle cx={sx} cy={sy} r="15" style={line(1.6)} />
      <rect x={sx - 5} y={sy - 5} width="10" height="10" style={{ fill: 'var(--ink)' }} />
      <g transform={`translate(${nut[0]} ${nut[1]})`}>
        <circle r="17" style={line(1.6)} />
        <path d="M11.3 0L5.6 9.8H-5.6L-11.3 0L-5.6 -9.8H5.6Z" style={{ fill: 'var(--ink)' }} />
      </g>
      <path d={`M${hand - 17} ${sy + 46}V${sy + 14}`} style={{ stroke: 'var(--ink)', strokeWidth: 3 }} />
      <path d={`M${hand - 17} ${sy + 10}l-7 13h14Z`} style={{ fill: 'var(--ink)' }} />
      <text
        x={hand - 17}
        y={sy + 62}
        textAnchor="middle"
        style={{ font: '500 14px var(--text)', fill: 'var(--ink-2)' }}
      >
        hand
      </text>
      <path
        d={`M${sx} ${sy - 22}V${sy - 40}M${hand - 17} ${sy - 14}V${sy - 40}M${sx} ${sy - 36}H${hand - 17}`}
        style={dim}
      />
      <text x={(sx + hand) / 2} y={sy - 42} textAnchor="middle" style={label}>
        L
      </text>
      <text x={nut[0]} y={nut[1] - 24} textAnchor="middle" style={label}>
        E
      </text>
      <path d={`M${sx} ${sy}H${sx - 70}`} style={{ ...dim, strokeDasharray: '9 3 2 3' }} />
      <text x={sx - 74} y={sy + 34} style={label}>
        θ {(num('θ') ?? 0).toFixed(0)}°
      </text>
    </>
  );
}

/** The multiplier on the nut, its arm against a support, and the force between them. */
export function Multiplier({ answer, num }: Facts) {
  const out = (key: string) => answer?.outputs.find((o) => o.key === key)?.text;
  return (
    <>
      <rect
        x="60"
        y="150"
        width="240"
        height="30"
        style={{ fill: 'url(#hCut)', stroke: 'var(--ink)', strokeWidth: 1.4 }}
      />
      <rect x="96" y="128" width="56" height="22" style={line()} />
      <rect x="102" y="108" width="44" height="20" style={{ ...line(), fill: 'var(--film-3)' }} />
      <rect x="86" y="62" width="76" height="46" rx="3" style={line(1.8)} />
      <rect x="112" y="48" width="24" height="14" style={{ fill: 'var(--ink)' }} />
      <path d="M124 48V36H230" style={{ fill: 'none', stroke: 'var(--ink)', strokeWidth: 5 }} />
      <rect x="222" y="30" width="56" height="12" rx="3" style={{ ...line(), fill: 'var(--film-3)' }} />
      <path d="M162 92H252V128" style={{ fill: 'none', stroke: 'var(--ink)', strokeWidth: 7 }} />
      <rect
        x="238"
        y="118"
        width="28"
        height="32"
        style={{ fill: 'url(#hCutB)', stroke: 'var(--ink)', strokeWidth: 1.4 }}
      />
      <path d="M124 20V180" style={{ ...dim, strokeDasharray: '14 4 3 4' }} />
      <text x="284" y="40" style={label}>
        S
      </text>
      <text x="284" y="26" style={{ font: '500 13px var(--text)', fill: 'var(--ink-2)' }} textAnchor="end">
        {out('input_torque_Nm') ?? out('set_Nm')}
      </text>
      <text x="20" y="144" style={label}>
        T
      </text>
      <text x="20" y="166" style={{ font: '500 13px var(--text)', fill: 'var(--ink-2)' }}>
        {num('T')?.toFixed(0)} N·m
      </text>
      <text x="272" y="112" style={label}>
        Fr
      </text>
      <text x="310" y="200" textAnchor="end" style={{ font: '600 13px var(--text)', fill: 'var(--hold-ink)' }}>
        {out('reaction_force_N')
          ? `arm presses with ${out('reaction_force_N')}: keep hands out`
          : 'keep hands away from the arm'}
      </text>
    </>
  );
}

/** Main lines with the grip's edge and its marks at the setting. */
export function Scale({ num, answer }: Facts) {
  const [lo, hi, step] = [num('s1') ?? 0, num('s2') ?? 100, num('step') ?? 10];
  const line = num('V') ?? lo;
  const mark = figureOf(answer?.outputs.find((o) => o.key === 'thimble_division')?.value);
  const marks = num('marks') ?? 10;
  const shown = [-2, -1, 0, 1].map((i) => line + i * step).filter((v) => v >= lo - 1e-9 && v <= hi + 1e-9);
  const x = (v: number) => 130 + ((v - line) / step) * 62;
  return (
    <>
      <rect
        x="6"
        y="36"
        width="174"
        height="52"
        style={{ fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.5 }}
      />
      {shown.map((v) => (
        <g key={v}>
          <path
            d={`M${x(v)} 36V${v === line ? 76 : 62}`}
            style={{
              stroke: 'var(--ink)',
              strokeWidth: v === line ? 2.6 : 1.2,
              strokeDasharray: v > line ? '4 3' : 'none',
            }}
          />
          {v <= line && (
            <text
              x={x(v)}
              y="30"
              textAnchor="middle"
              style={{ font: `${v === line ? 700 : 500} 15px var(--mono)`, fill: 'var(--ink)' }}
            >
              {digits(v)}
            </text>
          )}
        </g>
      ))}
      <rect
        x="146"
        y="22"
        width="160"
        height="80"
        style={{ fill: 'var(--film-3)', stroke: 'var(--ink)', strokeWidth: 1.8 }}
      />
      {[-2, -1, 0, 1, 2].map((i) => {
        const m = (((mark + i) % marks) + marks) % marks;
        return (
          <g key={i}>
            <path
              d={`M146 ${62 - i * 18}H${i === 0 ? 182 : 168}`}
              style={{ stroke: 'var(--ink)', strokeWidth: i === 0 ? 2.6 : 1 }}
            />
            <text
              x="190"
              y={67 - i * 18}
              style={{ font: `${i === 0 ? 700 : 500} 15px var(--mono)`, fill: i === 0 ? 'var(--ink)' : 'var(--ink-3)' }}
            >
              {m}
            </text>
          </g>
        );
      })}
      <path d="M6 62H146" style={{ stroke: 'var(--ink-3)', strokeWidth: 1 }} />
      <text x="6" y="122" style={{ font: '500 14px var(--text)', fill: 'var(--ink-2)' }}>
        main line {digits(line)} last seen at the edge, then mark {mark} of the grip on the line
      </text>
    </>
  );
}
