import type { FastenerState } from '../api/client';
import { type JointLayout, round2, sector, tallyRing, travel } from './geometry';

export const tallyStyle: Record<string, [string, string]> = {
  done: ['var(--ink)', 'var(--ink)'],
  moved_ok: ['var(--ok)', 'var(--ok)'],
  moved: ['url(#hRejS)', 'var(--rej)'],
  over: ['url(#hRejS)', 'var(--rej)'],
  short: ['url(#hHoldS)', 'var(--hold-edge)'],
  skipped: ['url(#hHoldS)', 'var(--hold-edge)'],
};

export function Tally({ l, f, k }: { l: JointLayout; f: FastenerState; k: number }) {
  const step = 360 / l.count;
  const pad = Math.min(2.2, step * 0.1);
  const deg = l.angle(f.position);
  return (
    <>
      {f.marks.slice(-4).map((m, i) => {
        const [inner, outer] = tallyRing(l, i);
        let [fill, stroke] = tallyStyle[m] ?? ['none', 'var(--hair)'];
        if (m === 'done' && f.state === 'accepted') [fill, stroke] = ['var(--ok)', 'var(--ok)'];
        return (
          <path
            // biome-ignore lint/suspicious/noArrayIndexKey: passes have no other name and never change place
            key={i}
            d={sector(inner * k, outer * k, deg - step / 2 + pad, deg + step / 2 - pad)}
            style={{ fill, stroke, strokeWidth: 1 }}
          />
        );
      })}
    </>
  );
}

/** Where a bar stands: it grows upwards from here. */
export function frame(l: JointLayout, position: number, k: number): string {
  const [x, y] = l.origin(position);
  const turn = `rotate(${round2(l.angle(position))})`;
  return x || y ? `translate(${round2(x * k)} ${round2(y * k)}) ${turn}` : turn;
}

const bad = new Set(['over']);
const held = new Set(['short']);

/** The aim of this pass as a short bar across the lane of a fastener. */
export function Aim({
  l,
  position,
  k,
  at,
  others,
  line,
}: {
  l: JointLayout;
  position: number;
  k: number;
  at: number;
  others: number[];
  line: string;
}) {
  const w = Math.max(5, l.nutRadius * k * 0.9);
  return (
    <g transform={frame(l, position, k)}>
      {others
        .filter((o) => Math.abs(o - at) > 0.5)
        .map((o) => (
          <path
            key={o}
            d={`M${-w * 0.7} ${-o}H${w * 0.7}`}
            style={{ stroke: 'var(--ink-3)', strokeWidth: 0.9, strokeDasharray: '3 3' }}
          />
        ))}
      <path d={`M${-w} ${-at}H${w}`} style={{ stroke: line, strokeWidth: 1.6 }} />
    </g>
  );
}

export const dialDeg = (t: number) => -135 + (270 / 1.12) * Math.min(t, 1.12);

export function DialAim({
  aim,
  k,
  line,
  up,
  down,
  now,
}: {
  aim: number;
  k: number;
  line: string;
  up: number;
  down: number;
  now: boolean;
}) {
  return (
    <>
      <path d={sector(42 * k, 62 * k, -135, 135)} style={{ fill: 'none', stroke: 'var(--ink)', strokeWidth: 1.2 }} />
      <path
        d={sector(42 * k, 62 * k, dialDeg(aim * (1 - down)), dialDeg(aim * (1 + up)))}
        style={{ fill: now ? 'var(--now-wash)' : 'var(--ok-wash)', stroke: line, strokeWidth: 0.8 }}
      />
      <path
        d={`M0 ${-40 * k}V${-65 * k}`}
        transform={`rotate(${dialDeg(aim)})`}
        style={{ stroke: line, strokeWidth: 1.8 }}
      />
    </>
  );
}

/** One nut alone: its bar goes round it like the needle's path on a dial. */
export function Dial({
  f,
  k,
  aim,
  next,
  easing,
}: {
  f: FastenerState;
  k: number;
  aim: number;
  next: boolean;
  easing?: boolean | undefined;
}) {
  const [fill, stroke] =
    f.state === 'accepted' || f.state === 'moved_ok'
      ? ['var(--ok)', 'var(--ok)']
      : held.has(f.state)
        ? ['url(#hHold)', 'var(--hold-edge)']
        : bad.has(f.state) || f.state === 'moved'
          ? ['url(#hRej)', 'var(--rej)']
          : ['var(--ink)', 'var(--ink)'];
  return (
    <>
      {f.fraction > 0 && (
        <path d={sector(45 * k, 59 * k, -135, dialDeg(f.fraction))} style={{ fill, stroke, strokeWidth: 1 }} />
      )}
      {next && (easing ? f.fraction > aim : f.fraction < aim) && (
        <path
          d={sector(45 * k, 59 * k, dialDeg(Math.min(f.fraction, aim)), dialDeg(Math.max(f.fraction, aim)))}
          style={{ fill: 'url(#hNow)', stroke: 'var(--now)', strokeWidth: 1.6 }}
        />
      )}
    </>
  );
}

export function PlannedBar({
  at,
  wide,
  stages,
  r,
}: {
  at: string;
  wide: number;
  stages: number[];
  r: (t: number) => number;
}) {
  const w = wide;
  const top = stages[stages.length - 1] ?? 1;
  const d = `M${-w / 2} ${-r(0)}V${-r(top)}H${w / 2}V${-r(0)}${stages
    .slice(0, -1)
    .map((t) => `M${-w / 2} ${-r(t)}H${w / 2}`)
    .join('')}`;
  return <path d={d} transform={at} style={{ fill: 'none', stroke: 'var(--ink)', strokeWidth: 1.1 }} />;
}

export interface BarProps {
  l: JointLayout;
  f: FastenerState;
  k: number;
  r: (t: number) => number;
  tier: string;
  aim: number;
  next: boolean;
  easing?: boolean | undefined;
}

export function Bar({ l, f, k, r, tier, aim, next, easing }: BarProps) {
  const w = Math.min(l.nutRadius * k * 1.05, 16 * Math.max(1, k / 3));
  const y0 = -r(0);
  const y1 = -r(f.fraction);
  const accepted = f.state === 'accepted' || f.state === 'moved_ok';
  let fill = 'var(--ink)';
  let stroke = 'var(--ink)';
  if (accepted) fill = stroke = 'var(--ok)';
  if (held.has(f.state)) [fill, stroke] = ['url(#hHold)', 'var(--hold-edge)'];
  if (bad.has(f.state) || f.state === 'moved') [fill, stroke] = ['url(#hRej)', 'var(--rej)'];
  let d = `M${-w / 2} ${y0}V${y1}H${w / 2}V${y0}Z`;
  if (tier !== 'S' && f.state === 'over')
    d = `M${-w / 2} ${y0}V${y1 + w * 0.55}L0 ${y1}L${w / 2} ${y1 + w * 0.55}V${y0}Z`;
  if (tier !== 'S' && f.state === 'short') d = `M${-w / 2} ${y0}V${y1}L0 ${y1 + w * 0.5}L${w / 2} ${y1}V${y0}Z`;
  return (
    <g transform={frame(l, f.position, k)}>
      {f.fraction > 0 && <path className="bar-grow" d={d} style={{ fill, stroke, strokeWidth: 1 }} />}
      {f.fraction > 0 && tier === 'L' && f.measured && (
        <circle cy={y1} r={w * 0.32} style={{ fill: 'var(--film)', stroke, strokeWidth: 2 }} />
      )}
      {f.fraction > 0 && tier === 'L' && !f.measured && f.state !== 'short' && f.state !== 'over' && (
        <path
          d={`M${-w / 2 - 3} ${y1}H${w / 2 + 3}`}
          style={{ stroke: accepted ? 'var(--ok)' : 'var(--ink)', strokeWidth: 2.6 }}
        />
      )}
      {f.state === 'skipped' && (
        <path
          d={`M0 ${-r(f.fraction) - 2}V${-r(aim)}`}
          style={{ stroke: 'var(--hold-ink)', strokeWidth: 2, strokeDasharray: '3 4' }}
        />
      )}
      {next && (easing ? f.fraction > aim : f.fraction < aim) && (
        <>
          {easing && (
            <rect
              x={-w / 2}
              y={-r(f.fraction)}
              width={w}
              height={r(f.fraction) - r(aim)}
              style={{ fill: 'var(--film)' }}
            />
          )}
          <rect
            x={-w / 2}
            y={-r(Math.max(aim, f.fraction))}
            width={w}
            height={Math.abs(r(aim) - r(f.fraction))}
            style={{ fill: 'url(#hNow)', stroke: 'var(--now)', strokeWidth: 1.6 }}
          />
          {easing && tier !== 'S' && (
            <path
              d={`M0 ${-r(f.fraction) - 20}V${-r(f.fraction) - 7}M-5 ${-r(f.fraction) - 12}L0 ${-r(f.fraction) - 5}L5 ${-r(f.fraction) - 12}`}
              style={{ fill: 'none', stroke: 'var(--now)', strokeWidth: 2.4 }}
            />
          )}
        </>
      )}
    </g>
  );
}

export function Travel({
  l,
  from,
  to,
  k,
  large,
}: {
  l: JointLayout;
  from: number;
  to: number;
  k: number;
  large: boolean;
}) {
  const t = travel(l, from, to, k);
  return (
    <g className="travel" key={`${from}-${to}`}>
      <path d={t.line} style={{ stroke: 'var(--film)', strokeWidth: large ? 9 : 5 }} />
      <path
        d={t.line}
        pathLength={1}
        className="travel-line"
        style={{ stroke: 'var(--now)', strokeWidth: large ? 3 : 2 }}
      />
      <path d={t.head} style={{ fill: 'var(--now)' }} />
      <circle cx={t.start[0]} cy={t.start[1]} r={large ? 4 : 2.5} style={{ fill: 'var(--now)' }} />
    </g>
  );
}
