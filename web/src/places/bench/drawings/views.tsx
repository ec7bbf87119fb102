import { typedAs } from '../../../kit/figures';
import type { Facts } from './index';

const at = (cx: number, cy: number, r: number, deg: number): [number, number] => [
  cx + r * Math.sin((deg * Math.PI) / 180),
  cy - r * Math.cos((deg * Math.PI) / 180),
];
const out = (f: Facts, key: string) => f.answer?.outputs.find((o) => o.key === key)?.value;
const mono = { font: '600 14px var(--mono)', fill: 'var(--ink)' };

/** The gaps as distances from a ring, and an arrow towards the widest. */
export function Gap(f: Facts) {
  const raw = f.values.gaps_mm;
  const gaps = (Array.isArray(raw) ? raw.map(String) : String(raw ?? '').split(/[\s;]+/))
    .filter(Boolean)
    .map((t) => typedAs(t).value);
  const [lo, hi] = [Math.min(...gaps), Math.max(...gaps)];
  if (gaps.length < 3 || !Number.isFinite(hi)) return null;
  const r = (v: number) => 70 + ((v - lo) / (hi - lo || 1)) * 46;
  const points = gaps.map((v, i) => at(150, 150, r(v), (360 * i) / gaps.length));
  const dir = out(f, 'widest_direction_deg');
  const tip = typeof dir === 'number' ? at(150, 150, 56, dir) : undefined;
  return (
    <>
      <circle cx="150" cy="150" r="70" style={{ fill: 'none', stroke: 'var(--ink-3)', strokeDasharray: '9 3 2 3' }} />
      <path
        d={`M${points.map((p) => p.map((v) => v.toFixed(1)).join(' ')).join('L')}Z`}
        style={{ fill: 'url(#hCut)', stroke: 'var(--ink)', strokeWidth: 1.8 }}
      />
      {points.map(([x, y], i) => {
        const [tx, ty] = at(150, 150, r(gaps[i] ?? 0) + 18, (360 * i) / gaps.length);
        return (
          <g key={`${x} ${y}`}>
            <circle cx={x} cy={y} r="4" style={{ fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.8 }} />
            <text x={tx} y={ty + 5} textAnchor="middle" style={mono}>
              {gaps[i]}
            </text>
          </g>
        );
      })}
      {tip && (
        <g>
          <path d={`M150 150L${tip[0]} ${tip[1]}`} style={{ stroke: 'var(--ink)', strokeWidth: 4 }} />
          <g transform={`translate(${tip[0]} ${tip[1]}) rotate(${dir as number})`}>
            <path d="M0 -10L-9 8H9Z" style={{ fill: 'var(--ink)' }} />
          </g>
        </g>
      )}
      {!tip && (
        <text x="150" y="155" textAnchor="middle" style={{ font: '500 14px var(--text)', fill: 'var(--ink-2)' }}>
          no tilt
        </text>
      )}
    </>
  );
}

/** Bolts on their circle with their chalk numbers, and the way from one to the next for the first eight. */
export function Order(f: Facts) {
  const order = out(f, 'order');
  if (!Array.isArray(order)) return null;
  const list = order as number[];
  const n = Math.max(...list);
  const start = f.num('φ') ?? 0;
  const spot = (hole: number) => at(150, 150, 116, start + (360 * (hole - 1)) / n);
  const size = n > 40 ? 5 : n > 24 ? 8 : 13;
  const first = [...new Set(list)].slice(0, Math.min(8, n));
  return (
    <>
      <circle cx="150" cy="150" r="116" style={{ fill: 'none', stroke: 'var(--ink-3)', strokeDasharray: '9 3 2 3' }} />
      <path
        d={`M${first.map((h) => spot(h).join(' ')).join('L')}`}
        style={{ fill: 'none', stroke: 'var(--ink-3)', strokeWidth: 1.4 }}
      />
      {Array.from({ length: n }, (_, i) => i + 1).map((hole) => {
        const [x, y] = spot(hole);
        const rank = list.indexOf(hole) + 1;
        return (
          <g key={hole}>
            <circle
              cx={x}
              cy={y}
              r={size}
              style={{ fill: rank === 1 ? 'var(--ink)' : 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.5 }}
            />
            {size > 7 && (
              <text
                x={x}
                y={y + 5}
                textAnchor="middle"
                style={{
                  font: `700 ${size > 9 ? 14 : 10}px var(--mono)`,
                  fill: rank === 1 ? 'var(--film)' : 'var(--ink)',
                }}
              >
                {rank}
              </text>
            )}
          </g>
        );
      })}
      <text x="150" y="146" textAnchor="middle" style={{ font: '600 15px var(--text)', fill: 'var(--ink-2)' }}>
        tighten 1, 2, 3 …
      </text>
      <text x="150" y="166" textAnchor="middle" style={{ font: '500 14px var(--text)', fill: 'var(--ink-2)' }}>
        line: the first {first.length}
      </text>
    </>
  );
}

/** The mark before and after on a clock face, and an allowed sector. */
export function Clock(f: Facts) {
  const from = f.num('h1');
  const to = f.num('h2');
  const place = f.num('h');
  const hours = Array.from({ length: 12 }, (_, i) => i + 1);
  const [ax, ay] = at(120, 120, 88, (from ?? 0) * 30);
  const [bx, by] = at(120, 120, 88, (to ?? 0) * 30);
  const span = (((to ?? 0) - (from ?? 0)) * 30 + 360) % 360;
  const [px, py] = at(120, 120, 74, (place ?? to ?? 0) * 30);
  return (
    <>
      <circle cx="120" cy="120" r="88" style={{ fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.6 }} />
      {from !== undefined && to !== undefined && (
        <path
          d={`M120 120L${ax} ${ay}A88 88 0 ${span > 180 ? 1 : 0} 1 ${bx} ${by}Z`}
          style={{ fill: 'var(--ok-wash)', stroke: 'var(--ok)', strokeWidth: 1.2 }}
        />
      )}
      {hours.map((h) => {
        const [x, y] = at(120, 120, 104, h * 30);
        return (
          <text key={h} x={x} y={y + 5} textAnchor="middle" style={mono}>
            {h}
          </text>
        );
      })}
      <path d={`M120 120L${px} ${py}`} style={{ stroke: 'var(--ink)', strokeWidth: 4 }} />
      <circle cx={px} cy={py} r="7" style={{ fill: 'var(--ink)' }} />
      {place === undefined && from !== undefined && (
        <>
          <circle
            cx={at(120, 120, 74, from * 30)[0]}
            cy={at(120, 120, 74, from * 30)[1]}
            r="6"
            style={{ fill: 'none', stroke: 'var(--ink)', strokeWidth: 2, strokeDasharray: '3 2' }}
          />
          <text x="120" y="256" textAnchor="middle" style={{ font: '500 14px var(--text)', fill: 'var(--ink-2)' }}>
            broken: start of the mark; solid: its end
          </text>
        </>
      )}
    </>
  );
}

/** The 60° profile with the diameters, from outside to root. */
export function Thread(f: Facts) {
  const names: [string, number][] = [
    ['d_mm', 30],
    ['d2_mm', 74],
    ['d1_mm', 110],
    ['d3_mm', 126],
  ];
  let profile = 'M20 126';
  for (let i = 0; i < 3; i++) {
    const x = 20 + i * 60;
    profile += `L${x + 10} 126L${x + 28} 30H${x + 36}L${x + 54} 126H${x + 60}`;
  }
  return (
    <>
      <path d={`${profile}V170H20Z`} style={{ fill: 'url(#hCut)', stroke: 'var(--ink)', strokeWidth: 1.6 }} />
      {names.map(([key, y]) => (
        <g key={key}>
          <path
            d={`M14 ${y}H214`}
            style={{ stroke: 'var(--ink-3)', strokeDasharray: key === 'd_mm' ? 'none' : '9 3 2 3' }}
          />
          <text x="220" y={y + (key === 'd1_mm' ? 0 : key === 'd3_mm' ? 12 : 5)} style={mono}>
            {key.replace('_mm', '')} {f.answer?.outputs.find((o) => o.key === key)?.number}
          </text>
        </g>
      ))}
      <path d="M52 14V26M112 14V26M52 20H112" style={{ stroke: 'var(--ink)' }} />
      <text x="82" y="14" textAnchor="middle" style={mono}>
        P {f.answer?.outputs.find((o) => o.key === 'pitch_mm')?.number}
      </text>
    </>
  );
}
