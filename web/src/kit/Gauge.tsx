import { num, unitText } from './numbers';

interface GaugeProps {
  value: number;
  max: number;
  step: number; // one mark
  main: number; // a numbered mark
  unit: string;
  size: number;
}

const at = (share: number, r: number) => {
  const a = ((135 + 270 * share) * Math.PI) / 180;
  return [Math.round(100 * (100 + r * Math.cos(a))) / 100, Math.round(100 * (100 + r * Math.sin(a))) / 100];
};

/** A round gauge with its needle where it shall stand. */
export function Gauge({ value, max, step, main, unit, size }: GaugeProps) {
  const numbered = main > 0 && max / main <= 16 ? main : max / 7;
  const marks: number[] = [];
  const fine = max / step <= 120 ? step : numbered / 2;
  for (let v = 0; v <= max + fine / 2; v += fine) marks.push(v);
  const words: number[] = [];
  const every = max / numbered > 8 ? numbered * 2 : numbered;
  for (let v = 0; v <= max + 1e-9; v += every) words.push(v);
  const [nx, ny] = at(value / max, 62);
  const [tx, ty] = at(value / max, -20);
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 200 200"
      role="img"
      aria-label={`Gauge: needle on ${num(value)} ${unitText(unit)}`}
    >
      <circle cx="100" cy="100" r="96" style={{ fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 3 }} />
      <circle cx="100" cy="100" r="88" style={{ fill: 'none', stroke: 'var(--hair)', strokeWidth: 1 }} />
      {marks.map((v) => {
        const big = Math.abs(v / numbered - Math.round(v / numbered)) < 1e-6;
        const [x1, y1] = at(v / max, 84);
        const [x2, y2] = at(v / max, big ? 70 : 76);
        return (
          <path key={v} d={`M${x1} ${y1}L${x2} ${y2}`} style={{ stroke: 'var(--ink)', strokeWidth: big ? 2.6 : 1.1 }} />
        );
      })}
      {words.map((v) => {
        const [x, y] = at(v / max, 55);
        return (
          <text
            key={v}
            x={x}
            y={(y ?? 0) + 5}
            textAnchor="middle"
            style={{ font: '600 15px var(--mono)', fill: 'var(--ink-2)' }}
          >
            {num(v, 0)}
          </text>
        );
      })}
      <path d={`M${tx} ${ty}L${nx} ${ny}`} style={{ stroke: 'var(--now)', strokeWidth: 4.5, strokeLinecap: 'round' }} />
      <circle cx="100" cy="100" r="9" style={{ fill: 'var(--ink)' }} />
      <text x="100" y="160" textAnchor="middle" style={{ font: '600 16px var(--mono)', fill: 'var(--ink)' }}>
        {unitText(unit)}
      </text>
    </svg>
  );
}
