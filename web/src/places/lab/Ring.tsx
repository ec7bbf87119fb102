import { hexagon, polar } from '../../rosette/geometry';
import type { Chances } from './ask';

/** Each bolt's load as a bar outward, and the gasket's stress as a band within; a press on a bolt is told. */
export function Ring({
  forces,
  target,
  enough = 0,
  pulled,
  gasket,
  hardest = 0,
  bands,
  onBolt,
  order,
}: {
  forces: number[];
  target: number;
  enough?: number; // percent of the target below which a load is drawn as low
  pulled: number[];
  gasket: number[] | undefined; // MPa at each bolt and halfway to the next
  hardest?: number; // MPa drawn at full width
  bands: Chances['band'] | undefined;
  onBolt?: ((b: number) => void) | undefined;
  order?: number[] | undefined;
}) {
  const n = forces.length;
  const [inner, reach, half] = [62, 46, 122];
  const at = (b: number) => (b - 0.5) * (360 / n);
  const wide = Math.min(14, (2 * Math.PI * inner * 0.62) / n);
  const most = Math.max(hardest, 1e-9);
  const spot = (i: number) => (i + 1) * (180 / n); // the first lies at bolt 1
  return (
    <svg
      className="lab-ring"
      width={2 * half}
      height={2 * half}
      viewBox={`${-half} ${-half} ${2 * half} ${2 * half}`}
      role={onBolt ? 'group' : 'img'}
      aria-label={onBolt ? 'The bolts, to be touched in their order' : 'Load of each bolt'}
    >
      <circle r={inner + reach} className="aim" />
      <circle r={inner} className="edge" />
      {gasket?.map((g, i) => {
        const [a, b] = [polar(inner - 14, spot(i - 0.5)), polar(inner - 14, spot(i + 0.5))];
        return (
          <path
            // biome-ignore lint/suspicious/noArrayIndexKey: places round the ring have no name
            key={i}
            d={`M${a[0]} ${a[1]}L${b[0]} ${b[1]}`}
            className="bed"
            style={{ strokeWidth: 12 * (g / most) }}
          />
        );
      })}
      {forces.map((f, i) => {
        const b = i + 1;
        const long = Math.max(0, Math.min(1.35, f / target)) * reach;
        const low = f < (enough / 100) * target;
        const band = bands?.[i];
        const [x, y] = polar(inner - 1, at(b));
        return (
          <g key={b} className={`bolt${low ? ' low' : ''}${pulled.includes(b) ? ' now' : ''}`}>
            <g transform={`rotate(${at(b)})`}>
              <rect x={-wide / 2} y={-inner - long} width={wide} height={long} className="load" />
              {band && (
                <path
                  d={`M0 ${-inner - (band[0] / target) * reach}V${-inner - (band[2] / target) * reach}M-4 ${-inner - (band[0] / target) * reach}H4M-4 ${-inner - (band[2] / target) * reach}H4`}
                  className="band"
                />
              )}
            </g>
            {onBolt ? (
              // biome-ignore lint/a11y/useSemanticElements: a bolt of a drawing; a native button cannot stand in one
              <g
                role="button"
                tabIndex={0}
                aria-label={`Bolt ${b}${order?.includes(b) ? `, number ${order.indexOf(b) + 1}` : ''}`}
                onClick={() => onBolt(b)}
                onKeyDown={(e) => {
                  if (e.key !== 'Enter' && e.key !== ' ') return;
                  e.preventDefault();
                  onBolt(b);
                }}
                className="touch"
              >
                <circle cx={x} cy={y} r="15" />
                <text x={x} y={y + 4.5} textAnchor="middle">
                  {order?.includes(b) ? order.indexOf(b) + 1 : '·'}
                </text>
              </g>
            ) : (
              <>
                <path d={hexagon(x, y, n > 24 ? 5 : 8.5, at(b))} className="nut" />
                {n <= 24 && (
                  <text x={x} y={y + 3.5} textAnchor="middle">
                    {b}
                  </text>
                )}
              </>
            )}
          </g>
        );
      })}
    </svg>
  );
}
