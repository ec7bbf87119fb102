import type { FastenerGroup } from '../../api/client';
import { polar, round2 } from '../../rosette/geometry';

interface Props {
  layout: FastenerGroup['layout'];
  gap: number[] | undefined;
  direction: number | undefined;
  result: number | undefined;
}

/** The joint from the front with its gap at the four quarters, drawn larger than life so that a difference can be seen. */
export function AlignmentDrawing({ layout, gap, direction, result }: Props) {
  const cx = 236;
  const cy = 160;
  const R = 84;
  const low = gap ? Math.min(...gap) : 0;
  const dots = Math.min(layout.count, 28);
  const arrow = direction !== undefined && (result ?? 0) > 0 ? direction : undefined;
  const places: [number, number, string, number, number, 'start' | 'end'][] = [
    [cx, 32, '12 o’clock', cx + 56, 24, 'start'],
    [cx + 138, cy, '3 o’clock', cx + 174, cy - 6, 'start'],
    [cx, 288, '6 o’clock', cx + 56, 282, 'start'],
    [cx - 138, cy, '9 o’clock', cx - 174, cy - 6, 'end'],
  ];
  return (
    <svg
      viewBox="0 0 472 320"
      width="100%"
      style={{ maxWidth: 472 }}
      role="img"
      aria-label={gap ? `Gap at four quarters, mm: ${gap.join(', ')}` : 'Gap at four quarters, not measured yet'}
    >
      <g transform={`translate(${cx} ${cy})`}>
        <circle r={R} style={{ fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.5 }} />
        <circle
          r={R * 0.8}
          style={{ fill: 'none', stroke: 'var(--ink-3)', strokeWidth: 1, strokeDasharray: '9 3 2 3' }}
        />
        <circle r={R * 0.58} style={{ fill: 'var(--film)', stroke: 'var(--ink)', strokeWidth: 1.2 }} />
        {Array.from({ length: dots }, (_, i) => {
          const [x, y] = polar(R * 0.8, 180 / dots + (i * 360) / dots);
          return (
            <circle
              key={round2(x) + round2(y)}
              cx={round2(x)}
              cy={round2(y)}
              r={Math.min(6.5, 70 / dots + 2)}
              style={{ fill: 'var(--film)', stroke: 'var(--ink)', strokeWidth: 1.2 }}
            />
          );
        })}
        <path
          d={`M0 ${-R - 12}V${R + 12}M${-R - 12} 0H${R + 12}`}
          style={{ stroke: 'var(--hair)', strokeDasharray: '14 4 3 4' }}
        />
        {arrow !== undefined && (
          <g transform={`rotate(${round2(arrow)})`}>
            <path d="M0 26V-26" style={{ stroke: 'var(--ink)', strokeWidth: 2.4 }} />
            <path d="M0 -40l-8 15h16Z" style={{ fill: 'var(--ink)' }} />
          </g>
        )}
        <rect x="-44" y="8" width="88" height="36" style={{ fill: 'var(--film)' }} />
        <text y="22" textAnchor="middle" style={{ font: '600 14px var(--text)', fill: 'var(--ink)' }}>
          {gap ? (arrow === undefined ? 'even' : 'opens this way') : 'not measured'}
        </text>
        {gap && (
          <text y="40" textAnchor="middle" style={{ font: '600 15px var(--mono)', fill: 'var(--ink)' }}>
            {result?.toFixed(2)}
          </text>
        )}
      </g>
      {places.map(([x, y, name, tx, ty, anchor], i) => {
        const v = gap?.[i];
        const g = v === undefined ? 10 : 8 + Math.min(26, (v - low) * 40);
        return (
          <g key={name}>
            <g transform={`translate(${x} ${y})`}>
              <rect
                x={-g / 2 - 17}
                y="-24"
                width="17"
                height="48"
                style={{ fill: 'url(#hCut)', stroke: 'var(--ink)', strokeWidth: 1.3 }}
              />
              <rect
                x={g / 2}
                y="-24"
                width="17"
                height="48"
                style={{ fill: 'url(#hCutB)', stroke: 'var(--ink)', strokeWidth: 1.3 }}
              />
            </g>
            <text x={tx} y={ty} textAnchor={anchor} style={{ font: '600 14px var(--text)', fill: 'var(--ink-2)' }}>
              {name}
            </text>
            <text
              x={tx}
              y={ty + 23}
              textAnchor={anchor}
              style={{ font: '700 22px var(--mono)', letterSpacing: '-.04em', fill: 'var(--ink)' }}
            >
              {v === undefined ? '–' : v.toFixed(2)}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
