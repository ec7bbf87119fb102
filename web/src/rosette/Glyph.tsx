import { useFamilies } from '../api/client';
import { hexagon, type Point, polar, round2 } from './geometry';

/** The outline of a family, and where its fasteners are just inside it; the radius is half of the mark. */
interface Outline {
  path: (r: number) => string;
  dot: (i: number, n: number) => Point; // from -1 to 1
}

const around = (i: number, n: number): Point => polar(1, 180 / n + (i * 360) / n);
const box = (r: number, h: number) => `M${-r} ${-r * h}H${r}V${r * h}H${-r}Z`;
/** Points spread evenly around the edge of a box, clockwise from its top left. */
const edge =
  (h: number) =>
  (i: number, n: number): Point => {
    const d = ((i + 0.5) / n) * (4 + 4 * h);
    if (d < 2) return [d - 1, -h];
    if (d < 2 + 2 * h) return [1, d - 2 - h];
    if (d < 4 + 2 * h) return [1 - (d - 2 - 2 * h), h];
    return [-1, h - (d - 4 - 2 * h)];
  };
const circle: Outline = { path: (r) => `M0 ${-r}A${r} ${r} 0 1 1 -0.01 ${-r}Z`, dot: around };
const lobe = (deg: number, r: number) => {
  const [x, y] = polar(r * 0.52, deg);
  return `M${round2(x)} ${round2(y - r * 0.48)}a${r * 0.48} ${r * 0.48} 0 1 1 -0.01 0Z`;
};
/** Fasteners in turn on the three lobes, spread on the outer side of each. */
const onLobes = (i: number, n: number): Point => {
  const lobe = (i % 3) * 120;
  const each = Math.ceil(n / 3);
  const [x, y] = polar(0.52, lobe);
  const [dx, dy] = polar(0.4, lobe + (Math.floor(i / 3) - (each - 1) / 2) * 48);
  return [x + dx, y + dy];
};
const outlines: Record<string, Outline> = {
  circle,
  rectangle: { path: (r) => box(r, 0.74), dot: edge(0.74) },
  strip: { path: (r) => box(r, 0.52), dot: edge(0.52) },
  clamp: {
    path: (r) => `M${-r} 0L${-r * 0.3} ${-r * 0.72}H${r * 0.3}L${r} 0L${r * 0.3} ${r * 0.72}H${-r * 0.3}Z`,
    dot: (i, n) => [i * 2 < n ? 0.9 : -0.9, 0],
  },
  nut: { path: (r) => hexagon(0, 0, r, 30), dot: (i, n) => [0, n === 1 ? -0.7 : 0.8 - (1.6 * i) / (n - 1)] },
  body: { path: (r) => [0, 120, 240].map((d) => lobe(d, r)).join(''), dot: onLobes },
};

export const glyphWords: Record<string, string> = {
  waiting: 'waiting',
  ready: 'ready',
  in_hand: 'in hand',
  to_prove: 'to prove',
  accepted: 'accepted',
  due_again: 'due again',
  stopped: 'stopped',
  turned_down: 'turned down',
  retired: 'retired',
};

/** The joint as a mark of 24 to 44 px: its own outline, and its state as a shape in the middle. */
export function Glyph({
  family,
  count,
  state,
  share = 0,
  size = 36,
  label,
}: {
  family?: string | undefined;
  count: number;
  state: string;
  share?: number;
  size?: number;
  label?: string;
}) {
  const R = size / 2;
  const dr = Math.max(1.15, size * 0.036);
  const rr = R - 1;
  const n = Math.min(count, 20);
  const shape = useFamilies().data?.find((f) => f.code === family)?.silhouette ?? 'circle';
  const out = outlines[shape] ?? circle;
  const dots =
    size >= 30 || count <= 8
      ? Array.from({ length: n }, (_, i) => {
          const [x, y] = out.dot(i, n);
          const k = rr - dr - 2.1;
          return [x * k, y * k] as const;
        })
      : [];
  const M = Math.max(4.2, Math.min(rr - dr * 2 - 4.4, R * 0.5));
  let fill = 'var(--film-2)';
  let stroke = 'var(--ink)';
  let dot = 'var(--ink)';
  let full = false;
  switch (state) {
    case 'waiting':
      stroke = dot = 'var(--ink-3)';
      break;
    case 'accepted':
      fill = stroke = 'var(--ok)';
      dot = 'var(--on-ok)';
      full = true;
      break;
    case 'stopped':
      [fill, stroke, dot, full] = ['url(#hHoldS)', 'var(--hold-edge)', 'var(--hold-line)', true];
      break;
    case 'turned_down':
      [fill, stroke, dot, full] = ['url(#hRejS)', 'var(--rej)', 'var(--rej)', true];
      break;
    case 'due_again':
      [stroke, dot, full] = ['var(--ok)', 'var(--ok)', true];
      break;
    case 'retired':
      fill = 'none';
      stroke = dot = 'var(--ink-3)';
      break;
    case 'to_prove':
      full = true;
      break;
  }
  const done = Math.round(share * dots.length);
  const [px, py] = polar(M, 360 * Math.min(share, 0.999));
  return (
    <svg
      className="glyph"
      role="img"
      aria-label={`${label ? `${label}, ` : ''}${glyphWords[state] ?? state}`}
      width={size}
      height={size}
      viewBox={`${-R} ${-R} ${size} ${size}`}
      style={{ overflow: 'visible', flex: 'none' }}
    >
      <path
        d={out.path(rr)}
        style={{
          fill,
          stroke,
          strokeLinejoin: 'round',
          strokeWidth: size >= 34 ? 1.5 : 1.25,
          strokeDasharray: state === 'waiting' ? '2.6 2' : undefined,
        }}
      />
      {dots.map(([x, y], i) => (
        <circle
          key={`${round2(x)},${round2(y)}`}
          cx={round2(x)}
          cy={round2(y)}
          r={dr}
          style={{
            fill: full || (state === 'in_hand' && i < done) ? dot : 'var(--film-2)',
            stroke: dot,
            strokeWidth: 0.7,
          }}
        />
      ))}
      {state === 'accepted' && (
        <path
          d={`M${-M * 0.62} ${M * 0.02}l${M * 0.42} ${M * 0.45}l${M * 0.82} ${-M * 0.98}`}
          style={{ fill: 'none', stroke: 'var(--on-ok)', strokeWidth: Math.max(2, M * 0.3), strokeLinecap: 'square' }}
        />
      )}
      {state === 'stopped' && (
        <>
          <circle r={M + 0.8} style={{ fill: 'var(--hold)' }} />
          <path
            d={`M${-M * 0.36} ${-M * 0.62}v${M * 1.24}M${M * 0.36} ${-M * 0.62}v${M * 1.24}`}
            style={{ stroke: 'var(--hold-line)', strokeWidth: Math.max(2, M * 0.36) }}
          />
        </>
      )}
      {state === 'turned_down' && (
        <>
          <circle r={M + 0.8} style={{ fill: 'var(--rej-wash)' }} />
          <path
            d={`M${-M * 0.58} ${-M * 0.58}L${M * 0.58} ${M * 0.58}M${-M * 0.58} ${M * 0.58}L${M * 0.58} ${-M * 0.58}`}
            style={{ stroke: 'var(--rej)', strokeWidth: Math.max(2.2, M * 0.34) }}
          />
        </>
      )}
      {state === 'in_hand' && (
        <>
          <circle r={M} style={{ fill: 'var(--film-2)', stroke: 'var(--now)', strokeWidth: 1.4 }} />
          {share > 0 && (
            <path d={`M0 0L0 ${-M}A${M} ${M} 0 ${share > 0.5 ? 1 : 0} 1 ${px} ${py}Z`} style={{ fill: 'var(--now)' }} />
          )}
        </>
      )}
      {state === 'ready' && <circle r={M * 0.34} style={{ fill: 'var(--ink)' }} />}
      {state === 'to_prove' && <circle r={M * 0.86} style={{ fill: 'var(--ink)' }} />}
      {state === 'retired' && (
        <path d={`M${-M} ${M}L${M} ${-M}`} style={{ fill: 'none', stroke: 'var(--ink-3)', strokeWidth: 1.8 }} />
      )}
      {state === 'due_again' && (
        <>
          <circle r={M} style={{ fill: 'var(--film-2)', stroke: 'var(--ok)', strokeWidth: 1.4 }} />
          <path d={`M0 ${-M * 0.72}V0H${M * 0.6}`} style={{ fill: 'none', stroke: 'var(--ink)', strokeWidth: 1.8 }} />
        </>
      )}
    </svg>
  );
}

/** The equipment tag as a plate with its hole. */
export function TagPlate({ text, size = 16 }: { text: string; size?: number }) {
  const h = Math.round(size * 1.62);
  const w = Math.round(text.length * size * 0.585 + h * 0.95 + 6);
  const c = h * 0.28;
  return (
    <svg role="img" aria-label={text} width={w} height={h} viewBox={`0 0 ${w} ${h}`} style={{ flex: 'none' }}>
      <path d={`M${c} .75H${w - 0.75}V${h - 0.75}H${c}L.75 ${h - c}V${c}Z`} style={{ fill: 'var(--ink)' }} />
      <circle cx={h * 0.42} cy={h / 2} r={h * 0.12} style={{ fill: 'var(--film)' }} />
      <text
        x={h * 0.78}
        y={h / 2 + size * 0.355}
        style={{ font: `700 ${size}px var(--mono)`, letterSpacing: '-.02em', fill: 'var(--film)' }}
      >
        {text}
      </text>
    </svg>
  );
}
