import { digits } from '../../kit/numbers';

interface ChartProps {
  points: [number, number][];
  mark?: [number, number] | undefined;
  marks?: { x: number; y: number; text: string }[];
  band?: [number, number] | undefined; // shaded, on x
  x: string;
  y: string;
  label: string;
  height?: number;
}

const short = (v: number) => (Math.abs(v) >= 1e5 || (Math.abs(v) < 1e-3 && v !== 0) ? v.toExponential(1) : digits(v));

/** A line over one quantity, with the present value marked. */
export function Chart({ points, mark, marks = [], band, x, y, label, height = 150 }: ChartProps) {
  if (points.length < 2) return null;
  const W = 560;
  const [L, R, T, B] = [54, 12, 12, 34];
  const all = [...points, ...(mark ? [mark] : []), ...marks.map((m): [number, number] => [m.x, m.y])];
  const xs = all.map((p) => p[0]);
  const ys = all.map((p) => p[1]);
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const pad = (y1 - y0) * 0.12 || Math.abs(y1) * 0.1 || 1;
  const lo = y0 >= 0 && y0 - pad < 0 ? 0 : y0 - pad;
  const hi = y1 + pad;
  const px = (v: number) => L + ((v - x0) / (x1 - x0 || 1)) * (W - L - R);
  const py = (v: number) => T + (1 - (v - lo) / (hi - lo)) * (height - T - B);
  const ticks = [0, 0.5, 1].map((f) => x0 + f * (x1 - x0));
  return (
    <svg className="chart" viewBox={`0 0 ${W} ${height}`} width="100%" role="img" aria-label={label}>
      {band && (
        <rect
          x={px(band[0])}
          y={T}
          width={Math.max(1, px(band[1]) - px(band[0]))}
          height={height - T - B}
          style={{ fill: 'var(--film-3)' }}
        />
      )}
      <path d={`M${L} ${T}V${height - B}H${W - R}`} className="axis" />
      {ticks.map((t, i) => (
        <text
          key={t}
          x={px(t)}
          y={height - 18}
          textAnchor={i === 0 ? 'start' : i === 2 ? 'end' : 'middle'}
          className="tick"
        >
          {short(t)}
        </text>
      ))}
      {[lo, hi].map((t) => (
        <text key={t} x={L - 6} y={py(t) + (t === lo ? 0 : 10)} textAnchor="end" className="tick">
          {short(t)}
        </text>
      ))}
      <text x={W - R} y={height - 3} textAnchor="end" className="name">
        {x}
      </text>
      <text x={L + 6} y={T + 8} className="name">
        {y}
      </text>
      <path
        d={points.map((p, i) => `${i ? 'L' : 'M'}${px(p[0]).toFixed(1)} ${py(p[1]).toFixed(1)}`).join('')}
        className="line"
      />
      {mark && (
        <>
          <path d={`M${px(mark[0])} ${py(mark[1])}V${height - B}`} className="drop" />
          <circle cx={px(mark[0])} cy={py(mark[1])} r="5" className="dot" />
          <text
            x={px(mark[0]) + 9 > W - 60 ? px(mark[0]) - 9 : px(mark[0]) + 9}
            y={py(mark[1]) - 7}
            textAnchor={px(mark[0]) + 9 > W - 60 ? 'end' : 'start'}
            className="val"
          >
            {short(mark[1])}
          </text>
        </>
      )}
      {marks.map((m) => (
        <g key={m.text}>
          <circle cx={px(m.x)} cy={py(m.y)} r="4.5" className="dot" />
          <text x={px(m.x) - 8} y={py(m.y) - 8} textAnchor="end" className="name">
            {m.text}
          </text>
        </g>
      ))}
    </svg>
  );
}
