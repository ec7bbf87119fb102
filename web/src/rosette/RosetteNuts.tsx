import type { FastenerState } from '../api/client';
import { arc, hexagon, type JointLayout, polar, round2, showsNumber } from './geometry';

/** Which of several tools is at a fastener. */
export function Letter({
  l,
  position,
  letter,
  k,
  mine,
}: {
  l: JointLayout;
  position: number;
  letter: string;
  k: number;
  mine?: boolean;
}) {
  const [x, y] = polar((l.circleRadius - l.nutRadius - 9) * k, l.angle(position));
  return (
    <g>
      <circle
        cx={round2(x)}
        cy={round2(y)}
        r={12}
        style={{ fill: 'var(--film)', stroke: mine ? 'var(--now)' : 'var(--ink)', strokeWidth: 1.8 }}
      />
      <text
        x={round2(x)}
        y={round2(y + 5)}
        textAnchor="middle"
        style={{ font: '700 15px var(--mono)', fill: mine ? 'var(--now)' : 'var(--ink)' }}
      >
        {letter}
      </text>
    </g>
  );
}

export interface NutProps {
  l: JointLayout;
  position: number;
  f: FastenerState | undefined;
  number: number;
  k: number;
  tier: string;
  next: boolean;
  look: boolean;
  onPick: ((position: number) => void) | undefined;
}

export function Nut({ l, position, f, number, k, tier, next, look, onPick }: NutProps) {
  const deg = l.angle(position);
  const [x, y] = l.point(position).map((v) => v * k) as unknown as [number, number];
  let r = l.nutRadius * k;
  const state = next ? 'next' : (f?.state ?? 'not_yet');
  let fill = 'var(--film-2)';
  let stroke = 'var(--ink)';
  let text = 'var(--ink)';
  let width = tier === 'S' ? 0.9 : 1.3;
  let dash: string | undefined;
  let plate = false;
  switch (state) {
    case 'done':
    case 'tight':
      fill = 'var(--ink)';
      text = 'var(--film)';
      break;
    case 'accepted':
    case 'moved_ok':
      fill = stroke = 'var(--ok)';
      text = 'var(--on-ok)';
      break;
    case 'over':
    case 'moved':
      [fill, stroke, width, text, plate] = ['url(#hRej)', 'var(--rej)', 2, 'var(--rej)', true];
      break;
    case 'short':
      [fill, stroke, width, text, plate] = ['url(#hHold)', 'var(--hold-edge)', 2, 'var(--hold-ink)', true];
      break;
    case 'skipped':
      [fill, stroke, width, text, plate, dash] = ['var(--film)', 'var(--hold-ink)', 2, 'var(--hold-ink)', true, '4 3'];
      break;
    case 'next':
      [fill, stroke, text] = ['var(--now)', 'var(--now)', 'var(--on-now)'];
      r *= 1.2;
      break;
  }
  const matters = next || ['short', 'over', 'skipped', 'moved'].includes(state);
  const size = Math.max(tier === 'L' ? 13 : 10, Math.min(21, l.nutRadius * k * 0.95)) * (next ? 1.2 : 1);
  const label = String(number);
  const pw = size * (label.length > 1 ? 1.3 : 0.82);
  const shown = (tier === 'L' || (tier === 'M' && l.nutRadius * k >= 9)) && showsNumber(l, position, matters);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the list of fasteners beside the drawing is the way by keyboard
    <g
      onClick={onPick ? () => onPick(position) : undefined}
      style={onPick ? { cursor: 'pointer' } : undefined}
      data-position={position}
      data-state={state}
    >
      {onPick && <circle cx={x} cy={y} r={Math.max(24, r * 1.5)} style={{ fill: 'transparent' }} />}
      {next && tier !== 'S' && (
        <circle
          cx={x}
          cy={y}
          r={r + (tier === 'L' ? 6 : 4)}
          style={{ fill: 'var(--film)', stroke: 'var(--now)', strokeWidth: tier === 'L' ? 3 : 2 }}
        />
      )}
      {look && <circle cx={x} cy={y} r={r + 12} style={{ fill: 'none', stroke: 'var(--ink)', strokeWidth: 3 }} />}
      {l.count > 28 && !next ? (
        <circle cx={x} cy={y} r={r * 0.9} style={{ fill, stroke, strokeWidth: width, strokeDasharray: dash }} />
      ) : (
        <path
          d={hexagon(x, y, r, deg)}
          style={{ fill, stroke, strokeWidth: width, strokeDasharray: dash, strokeLinejoin: 'round' }}
        />
      )}
      {state === 'skipped' && tier !== 'S' && (
        <path
          d={`M${x - r * 1.05} ${y + r * 0.75}L${x + r * 1.05} ${y - r * 0.75}`}
          style={{ stroke: 'var(--hold-ink)', strokeWidth: 2 }}
        />
      )}
      {shown && plate && (
        <rect x={x - pw / 2} y={y - size * 0.52} width={pw} height={size * 1.02} style={{ fill: 'var(--film-2)' }} />
      )}
      {shown && (
        <text
          x={x}
          y={y + size * 0.35}
          textAnchor="middle"
          style={{
            font: `700 ${round2(size)}px var(--mono)`,
            letterSpacing: '-.05em',
            fill: text,
            pointerEvents: 'none',
          }}
        >
          {label}
        </text>
      )}
      {tier === 'L' && f && (f.marks.at(-1) === 'moved' || f.marks.at(-1) === 'moved_ok' || state === 'moved') && (
        <TurnArrow x={x} y={y} r={l.nutRadius * k * 1.32} deg={deg} ok={f.state === 'moved_ok'} />
      )}
    </g>
  );
}

export function TurnArrow({ x, y, r, deg, ok }: { x: number; y: number; r: number; deg: number; ok: boolean }) {
  const [hx, hy] = polar(r, deg + 320);
  const c = ok ? 'var(--ok)' : 'var(--rej)';
  return (
    <g transform={`translate(${round2(x)} ${round2(y)})`}>
      <path d={arc(r, deg + 200, deg + 320)} style={{ fill: 'none', stroke: c, strokeWidth: 2.6 }} />
      <path
        d="M-5 -5L4 0L-5 5Z"
        transform={`translate(${round2(hx)} ${round2(hy)}) rotate(${round2(deg + 320)})`}
        style={{ fill: c }}
      />
    </g>
  );
}

export function RimWord({
  l,
  f,
  k,
  r,
  aim,
}: {
  l: JointLayout;
  f: FastenerState;
  k: number;
  r: (t: number) => number;
  aim: number;
}) {
  if (!f.word) return null;
  const deg = l.angle(f.position);
  const [ux, uy] = polar(1, deg);
  const [ox, oy] = l.origin(f.position);
  const R = r(Math.max(f.fraction, aim)) + 10;
  return (
    <text
      x={round2(ox * k + ux * R)}
      y={round2(oy * k + uy * R + 5 + (uy > 0.8 ? 7 : uy < -0.8 ? -5 : 0))}
      textAnchor={Math.abs(ux) < 0.25 ? 'middle' : ux > 0 ? 'start' : 'end'}
      style={{
        font: '600 15px var(--text)',
        fill: f.state === 'over' || f.state === 'moved' ? 'var(--rej)' : 'var(--hold-ink)',
        paintOrder: 'stroke',
        stroke: 'var(--film)',
        strokeWidth: 4,
      }}
    >
      {f.word}
    </text>
  );
}
