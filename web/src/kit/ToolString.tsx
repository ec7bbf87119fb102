import './kit.css';
import type { ReactNode } from 'react';

interface Piece {
  tag: string;
  kind: string;
  text: string;
}

const line = { fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.5 };
const thin = { fill: 'none', stroke: 'var(--ink)', strokeWidth: 1.2 };
const cut = { fill: 'url(#hCut)', stroke: 'var(--ink)', strokeWidth: 1.2 };

/** One tool, 96 wide and 60 high, its square towards the nut on the right. Not to scale; the order is what it tells. */
const shapes: Record<string, ReactNode> = {
  wrench: (
    <>
      <path d="M2 24H40V36H2Z" style={cut} />
      <path d="M40 26H78V34H40Z" style={line} />
      <circle cx="84" cy="30" r="10" style={line} />
      <rect x="80" y="26" width="8" height="8" style={thin} />
    </>
  ),
  screwdriver: (
    <>
      <path d="M6 22H46V38H6Z" style={cut} />
      <path d="M46 27H90V33H46Z" style={line} />
    </>
  ),
  multiplier: (
    <>
      <rect x="18" y="12" width="52" height="36" style={line} />
      <circle cx="38" cy="30" r="9" style={thin} />
      <circle cx="54" cy="30" r="6" style={thin} />
      <path d="M70 26H84V34H70M18 26H8V34H18" style={line} />
      <path d="M40 48V58H56V48" style={cut} />
    </>
  ),
  adapter: (
    <>
      <rect x="8" y="22" width="18" height="16" style={line} />
      <path d="M26 26H66V34H26Z" style={line} />
      <path d="M66 20L88 20 82 30 88 40 66 40Z" style={line} />
    </>
  ),
  extension: (
    <>
      <path d="M8 22H22V38H8ZM22 27H74V33H22ZM74 24H88V36H74Z" style={line} />
    </>
  ),
  socket: (
    <>
      <path d="M14 20H40V40H14ZM40 14H78V46H40Z" style={line} />
      <path d="M78 20L66 30 78 40" style={thin} />
    </>
  ),
  hydraulic_wrench: (
    <>
      <path d="M8 16H58V36H8Z" style={line} />
      <path d="M14 26H46" style={{ ...thin, strokeDasharray: '5 3' }} />
      <circle cx="70" cy="30" r="16" style={line} />
      <rect x="64" y="24" width="12" height="12" style={thin} />
      <path d="M60 44L52 58H70L76 46" style={cut} />
    </>
  ),
  pump: (
    <>
      <rect x="12" y="22" width="56" height="32" style={line} />
      <circle cx="40" cy="14" r="10" style={line} />
      <path d="M40 14L46 9" style={{ stroke: 'var(--ink)', strokeWidth: 2 }} />
      <path d="M68 32H88M68 44H88" style={thin} />
    </>
  ),
  hose: <path d="M4 24C30 10 60 46 92 26M4 36C30 22 60 58 92 38" style={{ ...thin, strokeWidth: 3 }} />,
  tensioner: (
    <>
      <path d="M24 20H72V52H24ZM34 8H62V20H34Z" style={line} />
      <path d="M48 2V58" style={{ ...thin, strokeDasharray: '8 3 2 3' }} />
    </>
  ),
  gauge: (
    <>
      <circle cx="48" cy="30" r="22" style={line} />
      <path d="M48 30L60 18" style={{ stroke: 'var(--ink)', strokeWidth: 2.4 }} />
    </>
  ),
};
const shapeOf = (kind: string) =>
  shapes[kind] ??
  (['click', 'preset', 'dial', 'electronic', 'electronic_angle'].includes(kind)
    ? shapes.wrench
    : (shapes.gauge as ReactNode));

/** The drawing of one tool. */
export function ToolDrawing({ kind, width = 96 }: { kind: string; width?: number }) {
  return (
    <svg viewBox="0 0 96 62" width={width} height={(width * 62) / 96} aria-hidden="true">
      {shapeOf(kind)}
    </svg>
  );
}

/** A set-up drawn in order, from hand or pump to the nut, each piece with its tag and what it is. */
export function ToolString({ pieces }: { pieces: Piece[] }) {
  return (
    <ol className="tool-string" aria-label="Tools from the hand to the nut, in order">
      {pieces.map((p, i) => (
        <li key={`${p.tag}${i.toString()}`} className={p.tag ? '' : 'missing'}>
          <ToolDrawing kind={p.kind} width={84} />
          <b className="m">{p.tag || 'missing'}</b>
          <small>{p.text}</small>
        </li>
      ))}
      <li className="nut">
        <svg viewBox="0 0 40 62" width="34" height="54" aria-hidden="true">
          <path d="M20 12L36 21V41L20 50L4 41V21Z" style={line} />
          <circle cx="20" cy="31" r="8" style={thin} />
        </svg>
        <b>nut</b>
      </li>
    </ol>
  );
}
