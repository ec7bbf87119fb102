import './kit.css';

interface RulerProps {
  name: string;
  value: number | undefined;
  limit: number;
  low?: number | undefined; // the allowed band begins here
  open?: boolean; // and has no upper end
  unit: string;
  digits?: number;
  words?: string; // the limit as people say it
}

/** A value on a line to scale, with the allowed band; the number and its limit beside it. */
export function LimitRuler({ name, value, limit, low = 0, open, unit, digits = 2, words }: RulerProps) {
  const max = Math.max(limit * 1.4, low * 1.6, (value ?? 0) * 1.1, 1e-9);
  const x = (t: number) => (Math.min(Math.abs(t), max) / max) * 100;
  const end = open ? max : limit;
  const over = value !== undefined && (Math.abs(value) > end + 1e-9 || value < low - 1e-9);
  return (
    <div className="ruler">
      <span>{name}</span>
      <svg height="22" width="100%" viewBox="0 0 100 22" preserveAspectRatio="none" aria-hidden="true">
        <path d="M0 11H100" style={{ stroke: 'var(--ink)', strokeWidth: 1 }} vectorEffect="non-scaling-stroke" />
        <rect
          x={x(low)}
          y="6"
          width={Math.max(0, x(end) - x(low))}
          height="10"
          style={{ fill: 'var(--ok-wash)', stroke: 'var(--ok)', strokeWidth: 1 }}
          vectorEffect="non-scaling-stroke"
        />
        {value !== undefined && (
          <path
            d={`M${x(value)} 1V21`}
            style={{ stroke: over ? 'var(--rej)' : 'var(--ink)', strokeWidth: 3.4 }}
            vectorEffect="non-scaling-stroke"
          />
        )}
      </svg>
      <span className="m" style={{ fontSize: 15, whiteSpace: 'nowrap' }}>
        <b className={over ? 'neg' : ''}>{value === undefined ? 'not measured' : value.toFixed(digits)}</b>
        {words ? (
          <small className="dim"> {words}</small>
        ) : (
          value !== undefined && ` of ${limit.toFixed(digits)} ${unit}`
        )}
      </span>
    </div>
  );
}

interface SpreadProps {
  name: string;
  text: string;
  low: number;
  high: number;
  value: number;
  band: readonly [number, number];
  end: number;
  marks: [number, string][];
}

/** A figure with its spread as a thick bar inside the allowed band. */
export function SpreadRuler({ name, text, low, high, value, band, end, marks }: SpreadProps) {
  const W = 416;
  const x = (t: number) => (Math.max(0, Math.min(t, end)) / end) * W;
  return (
    <div style={{ marginTop: 8 }}>
      <div style={{ display: 'flex', justifyContent: 'space-between', fontSize: 15, fontWeight: 600 }}>
        <span>{name}</span>
        <span className="m">{text}</span>
      </div>
      <svg
        width="100%"
        viewBox={`0 0 ${W} 28`}
        role="img"
        aria-label={`${name}: ${text}`}
        style={{ overflow: 'visible', maxWidth: W }}
      >
        <path d={`M0 8H${W}`} style={{ stroke: 'var(--ink)', strokeWidth: 1 }} />
        <rect
          x={x(band[0])}
          y="3"
          width={x(band[1]) - x(band[0])}
          height="10"
          style={{ fill: 'var(--ok-wash)', stroke: 'var(--ok)', strokeWidth: 1 }}
        />
        <rect x={x(low)} y="5.5" width={Math.max(2, x(high) - x(low))} height="5" style={{ fill: 'var(--ink)' }} />
        <path d={`M${x(value)} 0V16`} style={{ stroke: 'var(--ink)', strokeWidth: 3 }} />
        {marks.map(([t, s]) => (
          <text
            key={s}
            x={x(t)}
            y="27"
            textAnchor={x(t) > W * 0.85 ? 'end' : x(t) < W * 0.15 ? 'start' : 'middle'}
            style={{ font: '500 13px var(--text)', fill: 'var(--ink-2)' }}
          >
            {s}
          </text>
        ))}
      </svg>
    </div>
  );
}
