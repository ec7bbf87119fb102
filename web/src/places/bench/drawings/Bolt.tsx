import type { Facts } from './index';

const teeth = (x: number, out: number, from: number, to: number) => {
  let d = '';
  for (let y = from; y < to; y += 8) d += `M${x} ${y}l${out} 4l${-out} 4`;
  return d;
};

/** Bolt, nut, washer and parts in section. */
export function Bolt({ num }: Facts) {
  return (
    <>
      <rect
        x="20"
        y="160"
        width="220"
        height="64"
        style={{ fill: 'url(#hCut)', stroke: 'var(--ink)', strokeWidth: 1.4 }}
      />
      <rect
        x="20"
        y="232"
        width="220"
        height="64"
        style={{ fill: 'url(#hCutB)', stroke: 'var(--ink)', strokeWidth: 1.4 }}
      />
      <rect x="20" y="224" width="220" height="8" style={{ fill: 'var(--ink)' }} />
      <rect
        x="78"
        y="160"
        width="104"
        height="136"
        style={{ fill: 'var(--film)', stroke: 'var(--ink)', strokeWidth: 1 }}
      />
      <rect
        x="82"
        y="48"
        width="96"
        height="248"
        style={{ fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.5 }}
      />
      <path
        d={teeth(82, 6, 50, 190) + teeth(178, -6, 50, 190)}
        style={{ fill: 'none', stroke: 'var(--ink)', strokeWidth: 1 }}
      />
      <path d="M90 48V190M170 48V190" style={{ stroke: 'var(--ink)', strokeWidth: 0.8 }} />
      <path
        d="M52 296H208V350L200 358H60L52 350Z"
        style={{ fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.6 }}
      />
      <path d="M90 296V358M170 296V358" style={{ stroke: 'var(--ink)' }} />
      <path
        d="M60 76H200L208 84V150H52V84Z"
        style={{ fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.6 }}
      />
      <path d="M90 76V150M170 76V150" style={{ stroke: 'var(--ink)' }} />
      <rect
        x="44"
        y="150"
        width="172"
        height="10"
        style={{ fill: 'var(--film-3)', stroke: 'var(--ink)', strokeWidth: 1.2 }}
      />
      <path d="M130 20V390" style={{ stroke: 'var(--ink-3)', strokeWidth: 1, strokeDasharray: '14 4 3 4' }} />
      <path d="M60 56A74 26 0 0 1 196 54" style={{ fill: 'none', stroke: 'var(--ink)', strokeWidth: 3 }} />
      <path d="M203 66l-17 -8l13 -11Z" style={{ fill: 'var(--ink)' }} />
      <path d="M130 190V286" style={{ stroke: 'var(--ink)', strokeWidth: 4 }} />
      <path d="M130 176l-10 17h20ZM130 292l-10 -17h20Z" style={{ fill: 'var(--ink)' }} />
      {num('F') !== undefined && (
        <text x="140" y="245" style={{ font: '700 13px var(--mono)', fill: 'var(--ink)' }}>
          F
        </text>
      )}
    </>
  );
}
