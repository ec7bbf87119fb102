import type { ReactNode } from 'react';

/** What drawings of a part the right way beside the wrong way share. Which is which is told by a tick and a bar across, not by colour alone. */

export const ink = { fill: 'none', stroke: 'var(--ink)', strokeWidth: 1.5 };
export const part = { fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.5 };
export const soft = { fill: 'var(--ink)', stroke: 'var(--ink)' };
export const cut = { fill: 'url(#hCut)', stroke: 'var(--ink)', strokeWidth: 1.4 };
export const cutB = { fill: 'url(#hCutB)', stroke: 'var(--ink)', strokeWidth: 1.4 };
export const line = { fill: 'none', stroke: 'var(--ink)', strokeWidth: 4 };
export const small = { font: '600 12px var(--text)', fill: 'var(--ink)', textAnchor: 'middle' } as const;
export const big = { font: '700 26px var(--mono)', fill: 'var(--ink)', textAnchor: 'middle' } as const;

/** Two pictures of 150 by 104, the right one first. */
export function Two({ right, wrong }: { right: ReactNode; wrong: ReactNode }) {
  return (
    <>
      <g>{right}</g>
      <path d="M66 113l7 8l14 -15" style={{ ...line, stroke: 'var(--ok)' }} />
      <g transform="translate(176 0)">
        <g opacity="0.75">{wrong}</g>
        <path d="M8 98L142 6" style={{ stroke: 'var(--rej)', strokeWidth: 5 }} />
        <path d="M68 108L84 122M84 108L68 122" style={{ ...line, stroke: 'var(--rej)' }} />
      </g>
      <path d="M166 8V120" style={{ stroke: 'var(--ink-3)' }} />
    </>
  );
}

export const hex = (x: number, y: number, r: number, turn = 0) =>
  `M${Array.from({ length: 6 }, (_, i) => {
    const a = ((60 * i + turn) * Math.PI) / 180;
    return `${(x + r * Math.cos(a)).toFixed(1)} ${(y + r * Math.sin(a)).toFixed(1)}`;
  }).join('L')}Z`;

/** Draws a part with true the right way, with false the wrong way. */
export const pair = (draw: (way: boolean) => ReactNode) => <Two right={draw(true)} wrong={draw(false)} />;
