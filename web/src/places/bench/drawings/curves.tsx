import { calculate } from '../../../core/calc';
import { typedAs } from '../../../kit/figures';
import { Chart } from '../Chart';
import type { Facts } from './index';

const value = (f: Facts, key: string) => {
  const v = f.answer?.outputs.find((o) => o.key === key)?.value;
  return typeof v === 'number' ? v : undefined;
};

type Rows = Record<string, unknown>[];
const pairs = (rows: unknown, x: string, y: string): [number, number][] =>
  (Array.isArray(rows) ? (rows as Rows) : [])
    .map((r): [number, number] => [typedAs(String(r[x] ?? '')).value, typedAs(String(r[y] ?? '')).value])
    .filter((p) => Number.isFinite(p[0]) && Number.isFinite(p[1]));

/** Least, typical and greatest load as a bar, with the load at yield as a line. */
export function Band(f: Facts) {
  const [min, typ, max, fy] = ['preload_min_kN', 'preload_typ_kN', 'preload_max_kN', 'yield_load_kN'].map((k) =>
    value(f, k),
  );
  if (min === undefined || typ === undefined || max === undefined) return null;
  const end = Math.max(max, fy ?? 0) * 1.12;
  const x = (v: number) => 10 + (v / end) * 540;
  const text = { font: '600 15px var(--mono)', fill: 'var(--ink)' };
  const word = { font: '500 14px var(--text)', fill: 'var(--ink-2)' };
  return (
    <>
      <path d="M10 74H550" style={{ stroke: 'var(--ink)' }} />
      {fy !== undefined && (
        <rect x={x(fy)} y="46" width={Math.max(0, 550 - x(fy))} height="56" style={{ fill: 'url(#hRej)' }} />
      )}
      <rect
        x={x(min)}
        y="62"
        width={x(max) - x(min)}
        height="24"
        style={{ fill: 'url(#hCut)', stroke: 'var(--ink)', strokeWidth: 1.4 }}
      />
      <path d={`M${x(typ)} 52V96`} style={{ stroke: 'var(--ink)', strokeWidth: 3.4 }} />
      {[
        [min, 'least'],
        [typ, 'typical'],
        [max, 'greatest'],
      ].map(([v, name], i) => (
        <g key={String(name)}>
          <text x={x(v as number)} y={i === 1 ? 44 : 118} textAnchor="middle" style={text}>
            {(v as number).toFixed(0)} kN
          </text>
          <text x={x(v as number)} y={i === 1 ? 28 : 135} textAnchor="middle" style={word}>
            {name}
          </text>
        </g>
      ))}
      {fy !== undefined && (
        <>
          <path d={`M${x(fy)} 40V106`} style={{ stroke: 'var(--rej)', strokeWidth: 2.4 }} />
          <text
            x={Math.min(x(fy), 500)}
            y="28"
            textAnchor="middle"
            style={{ ...word, fill: 'var(--rej)', fontWeight: 600 }}
          >
            yield {fy.toFixed(0)} kN
          </text>
        </>
      )}
    </>
  );
}

/** The tool's chart with the point in use. */
export function Pump(f: Facts) {
  const chart = pairs(f.values.chart, 'pressure_MPa', 'torque_Nm');
  const p = value(f, 'set_pressure_MPa') ?? value(f, 'pressure_MPa');
  const t = value(f, 'torque_at_set_Nm') ?? value(f, 'loosening_torque_Nm');
  const c = f.num('c');
  const line: [number, number][] = chart.length > 1 ? chart : c && p ? [p / 2, p * 1.5].map((x) => [x, x * c]) : [];
  return (
    <Chart
      points={line}
      mark={p !== undefined && t !== undefined ? [p, t] : undefined}
      x="pressure, MPa"
      y="torque, N·m"
      label="Torque over pressure, with the setting"
      height={220}
    />
  );
}

/** The play that each temperature gives, by asking the sheet for it. */
export function Shrink(f: Facts) {
  const name = f.answer?.calc ?? '';
  const key = name === 'bearing_heating' ? 'temp_C' : 'hub_C';
  const c = f.num('c') ?? 0.1;
  const swept =
    calculate(name, { values: f.values, sweep: { key: 'clearance_mm', from: c / 20, to: c * 2.2, points: 24 } }, [])
      .answer?.sweep ?? [];
  const points = swept
    .map((p): [number, number] => [(p.values as Record<string, number> | null)?.[key] ?? Number.NaN, p.x])
    .filter((p) => Number.isFinite(p[0]));
  const limit = f.num('tl');
  const hot = value(f, key);
  return (
    <Chart
      points={points}
      mark={hot !== undefined ? [hot, c] : undefined}
      band={
        limit !== undefined && points.some((p) => p[0] > limit)
          ? [limit, Math.max(...points.map((p) => p[0]))]
          : undefined
      }
      x={`temperature, °C${limit !== undefined ? `; shaded: over ${limit}` : ''}`}
      y="play, mm"
      label="Play over temperature"
      height={220}
    />
  );
}

/** The recorded pull, with snug and yield on it. */
export function Trace(f: Facts) {
  const points = pairs(f.values.points, 'angle_deg', 'torque_Nm');
  const at = (a: string, t: string, text: string) => {
    const [x, y] = [value(f, a), value(f, t)];
    return x !== undefined && y !== undefined ? [{ x, y, text }] : [];
  };
  return (
    <Chart
      points={points}
      marks={[...at('snug_angle_deg', 'snug_torque_Nm', 'snug'), ...at('yield_angle_deg', 'yield_torque_Nm', 'yield')]}
      x="angle, °"
      y="torque, N·m"
      label="Torque over angle"
      height={240}
    />
  );
}
