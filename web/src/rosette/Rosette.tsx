import type { ReactNode } from 'react';
import type { FastenerState } from '../api/client';
import {
  annulus,
  arc,
  circleLayout,
  hexagon,
  type JointLayout,
  type Place,
  placedLayout,
  polar,
  round2,
  sector,
  showsNumber,
  tallyRing,
  torqueRadius,
  travel,
} from './geometry';

export interface RosetteProps {
  count: number;
  startDeg: number;
  anticlockwise?: boolean | undefined;
  kind?: string | undefined; // of the layout; none: a bolt circle
  places?: Place[] | undefined; // where the fasteners are, when they stand on no circle
  size: number;
  label: string;
  fasteners?: FastenerState[];
  numbers: number[]; // as chalked, by position
  next?: number | undefined;
  prev?: number | undefined;
  letter?: string; // of the tool at next, when several pull at once
  others?: { position: number; letter: string }[]; // where the other tools are
  look?: number | undefined; // position looked at with the arrow keys
  aim?: number; // fraction of the final torque this pass aims at
  up?: number; // tolerance as fraction
  down?: number;
  now?: boolean; // the band is the act of this pass
  lines?: number[]; // fractions of the other passes
  scale?: { t: number; text: string; now?: boolean }[];
  tMax?: number;
  hub?: ReactNode;
  planned?: number[]; // draw bars in outline with these stages
  order?: number[]; // draw the order as a path
  stations?: number;
  words?: boolean;
  onPick?: ((position: number) => void) | undefined;
}

const bad = new Set(['over']);
const held = new Set(['short']);

/** The joint drawn to its own bolt circle: nuts, torque of each as a bar, passes as rings, and the way to the next. */
export function Rosette(p: RosetteProps) {
  const l =
    p.places && p.kind && p.kind !== 'circle'
      ? placedLayout(p.places)
      : circleLayout(p.count, p.startDeg, p.anticlockwise);
  const k = p.size / 200;
  const tier = p.size >= 380 ? 'L' : p.size >= 150 ? 'M' : 'S';
  const tMax = p.tMax ?? 1.12;
  const r = (t: number) => torqueRadius(l, t, tMax) * k;
  const aim = p.aim ?? 1;
  const half = p.size / 2;
  const fasteners = p.fasteners ?? [];
  const extent = (l.round ? l.barStart + l.barLength * tMax : 84) * k + 4;
  const single = !l.round && l.count === 1;
  const line = p.now ? 'var(--now)' : 'var(--ok)';
  return (
    <svg
      className="rosette"
      {...(p.label ? { role: 'img', 'aria-label': p.label } : { 'aria-hidden': true })}
      width={p.size}
      height={p.size}
      viewBox={`${-half} ${-half} ${p.size} ${p.size}`}
      style={{ overflow: 'visible', maxWidth: '100%' }}
    >
      {tier !== 'S' && (
        <path
          d={`M0 ${-extent}V${extent}M${-extent} 0H${extent}`}
          style={{ stroke: 'var(--hair)', strokeWidth: 1, strokeDasharray: '14 4 3 4' }}
        />
      )}
      {l.round ? (
        <>
          <circle
            r={l.circleRadius * k}
            style={{ fill: 'none', stroke: 'var(--ink-3)', strokeWidth: 1, strokeDasharray: '9 3 2 3' }}
          />
          <circle
            r={l.barStart * k}
            style={{ fill: 'none', stroke: 'var(--ink)', strokeWidth: tier === 'S' ? 1 : 1.25 }}
          />
          {p.lines
            ?.filter((t) => Math.abs(t - aim) > 0.001)
            .map((t) => (
              <circle
                key={t}
                r={r(t)}
                style={{ fill: 'none', stroke: 'var(--ink-3)', strokeWidth: 0.9, strokeDasharray: '3 4' }}
              />
            ))}
          <path
            fillRule="evenodd"
            d={annulus(r(aim * (1 - (p.down ?? 0.05))), r(aim * (1 + (p.up ?? 0.05))))}
            style={{ fill: p.now ? 'var(--now-wash)' : 'var(--ok-wash)', stroke: line, strokeWidth: 0.8 }}
          />
          <circle r={r(aim)} style={{ fill: 'none', stroke: line, strokeWidth: tier === 'S' ? 1 : 1.5 }} />
        </>
      ) : (
        <>
          <Body kind={p.kind ?? ''} l={l} k={k} thin={tier === 'S'} />
          {!single &&
            Array.from({ length: l.count }, (_, i) => (
              <Aim
                key={l.point(i + 1).join()}
                l={l}
                position={i + 1}
                k={k}
                at={r(aim)}
                others={(p.lines ?? []).map(r)}
                line={line}
              />
            ))}
          {single && <DialAim aim={aim} k={k} line={line} up={p.up ?? 0.05} down={p.down ?? 0.05} now={!!p.now} />}
        </>
      )}
      {tier !== 'S' && l.round && fasteners.map((f) => <Tally key={f.position} l={l} f={f} k={k} />)}
      {single && fasteners[0] && <Dial f={fasteners[0]} k={k} aim={aim} next={p.next === 1} />}
      {!single &&
        (p.planned
          ? Array.from({ length: p.count }, (_, i) => (
              <PlannedBar
                key={frame(l, i + 1, k)}
                at={frame(l, i + 1, k)}
                wide={Math.min(11, l.nutRadius * k)}
                stages={p.planned ?? []}
                r={r}
              />
            ))
          : fasteners.map((f) => (
              <Bar key={f.position} l={l} f={f} k={k} r={r} tier={tier} aim={aim} next={f.position === p.next} />
            )))}
      {p.order && (
        <path
          d={`M${p.order
            .map((q) =>
              (l.round ? polar((l.circleRadius - l.nutRadius - 2) * k, l.angle(q)) : l.point(q).map((v) => v * k))
                .map(round2)
                .join(' '),
            )
            .join('L')}`}
          style={{ fill: 'none', stroke: 'var(--ink-3)', strokeWidth: 1.1 }}
        />
      )}
      {p.prev && p.next && p.prev !== p.next && tier !== 'S' ? (
        <Travel l={l} from={p.prev} to={p.next} k={k} large={tier === 'L'} />
      ) : null}
      {tier !== 'S' && p.letter && p.next ? <Letter l={l} position={p.next} letter={p.letter} k={k} mine /> : null}
      {tier !== 'S' &&
        p.others?.map((o) => <Letter key={o.letter} l={l} position={o.position} letter={o.letter} k={k} />)}
      {Array.from({ length: p.count }, (_, i) => i + 1)
        .sort((a, b) => (a === p.next ? 1 : 0) - (b === p.next ? 1 : 0))
        .map((pos) => (
          <Nut
            key={pos}
            l={l}
            position={pos}
            f={fasteners[pos - 1]}
            number={p.numbers[pos - 1] ?? pos}
            k={k}
            tier={tier}
            next={pos === p.next}
            look={pos === p.look}
            onPick={p.onPick}
          />
        ))}
      {tier === 'L' &&
        p.words !== false &&
        !single &&
        fasteners.map((f) => <RimWord key={f.position} l={l} f={f} k={k} r={r} aim={aim} />)}
      {tier === 'L' &&
        l.round &&
        p.scale?.map((s) => {
          const w = s.text.length * 7.6 + 8;
          return (
            <g key={s.text}>
              <rect x={-w / 2} y={-r(s.t) - 8} width={w} height="16" style={{ fill: 'var(--film)' }} />
              <text
                y={-r(s.t) + 4.5}
                textAnchor="middle"
                style={{ font: '600 13px var(--mono)', fill: s.now ? 'var(--now)' : 'var(--ink-2)' }}
              >
                {s.text}
              </text>
            </g>
          );
        })}
      {p.stations && l.round
        ? Array.from({ length: p.stations }, (_, i) => {
            const [x, y] = polar(r(tMax) + 12, (i * 360) / (p.stations ?? 1));
            const letter = String.fromCharCode(97 + i);
            return (
              <g key={letter}>
                <circle
                  cx={x}
                  cy={y}
                  r="10"
                  style={{ fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.2 }}
                />
                <text x={x} y={y + 5} textAnchor="middle" style={{ font: '600 14px var(--text)', fill: 'var(--ink)' }}>
                  {letter}
                </text>
              </g>
            );
          })
        : null}
      {p.hub}
    </svg>
  );
}

/** "8 of 16" on a plate in the middle. */
export function Hub({ n, of, unit, k }: { n: number | string; of: string; unit?: string; k: number }) {
  const w = Math.max(40, 17 * k);
  const h = Math.max(13, 5.2 * k);
  return (
    <g>
      <rect x={-w} y={-h} width={2 * w} height={2 * h} style={{ fill: 'var(--film)' }} />
      <text
        y={Math.max(7, 2.6 * k)}
        textAnchor="middle"
        style={{ font: `700 ${Math.max(20, 8 * k)}px var(--mono)`, letterSpacing: '-.04em', fill: 'var(--ink)' }}
      >
        {n}
        <tspan
          dx="5"
          style={{ font: `600 ${Math.max(15, 5.6 * k)}px var(--text)`, letterSpacing: 0, fill: 'var(--ink-2)' }}
        >
          {of}
        </tspan>
      </text>
      {unit && (
        <text y={h + 12} textAnchor="middle" style={{ font: '600 15px var(--text)', fill: 'var(--hold-ink)' }}>
          {unit}
        </text>
      )}
    </g>
  );
}

const tallyStyle: Record<string, [string, string]> = {
  done: ['var(--ink)', 'var(--ink)'],
  moved_ok: ['var(--ok)', 'var(--ok)'],
  moved: ['url(#hRejS)', 'var(--rej)'],
  over: ['url(#hRejS)', 'var(--rej)'],
  short: ['url(#hHoldS)', 'var(--hold-edge)'],
  skipped: ['url(#hHoldS)', 'var(--hold-edge)'],
};

function Tally({ l, f, k }: { l: JointLayout; f: FastenerState; k: number }) {
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
function frame(l: JointLayout, position: number, k: number): string {
  const [x, y] = l.origin(position);
  const turn = `rotate(${round2(l.angle(position))})`;
  return x || y ? `translate(${round2(x * k)} ${round2(y * k)}) ${turn}` : turn;
}

/** What the fasteners hold, behind them. */
function Body({ kind, l, k, thin }: { kind: string; l: JointLayout; k: number; thin: boolean }) {
  const xs = Array.from({ length: l.count }, (_, i) => l.point(i + 1)[0]);
  const ys = Array.from({ length: l.count }, (_, i) => l.point(i + 1)[1]);
  const pad = l.nutRadius + 6;
  const [x0, x1, y0, y1] = [
    Math.min(...xs) - pad,
    Math.max(...xs) + pad,
    Math.min(...ys) - pad,
    Math.max(...ys) + pad,
  ].map((v) => v * k) as [number, number, number, number];
  const ink = { fill: 'none', stroke: 'var(--ink)', strokeWidth: thin ? 1 : 1.25 };
  const pale = { fill: 'none', stroke: 'var(--ink-3)', strokeWidth: 1, strokeDasharray: '4 3' };
  switch (kind) {
    case 'rectangle':
      return (
        <>
          <rect x={x0} y={y0} width={x1 - x0} height={y1 - y0} rx={10 * k} style={ink} />
          <rect
            x={x0 + 20 * k}
            y={y0 + 20 * k}
            width={Math.max(4, x1 - x0 - 40 * k)}
            height={Math.max(4, y1 - y0 - 40 * k)}
            rx={4 * k}
            style={pale}
          />
        </>
      );
    case 'pair':
      return (
        <>
          <circle r={34 * k} style={ink} />
          <circle r={29 * k} style={ink} />
          {xs.map((x, i) => (
            <path
              key={x}
              d={`M${(x * 34 * k) / 56} ${((ys[i] ?? 0) * 34 * k) / 56}L${x * k} ${(ys[i] ?? 0) * k}`}
              style={{ stroke: 'var(--ink)', strokeWidth: 8 * k, opacity: 0.12 }}
            />
          ))}
        </>
      );
    case 'rows':
      return (
        <>
          <rect x={x0} y={y0} width={x1 - x0} height={y1 - y0} style={ink} />
          <path d={`M0 ${y0}V${y1}`} style={pale} />
        </>
      );
    case 'stack':
      return (
        <>
          {[...new Set(xs)].map((x) => (
            <path key={x} d={`M${x * k} ${y0}V${y1}`} style={{ ...ink, strokeWidth: 4 }} />
          ))}
          <path d={`M${x0} ${y1}H${x1}`} style={ink} />
        </>
      );
    case 'layers':
      return (
        <>
          {[...new Set(ys)].map((y) => (
            <path key={y} d={`M${x0} ${(y + l.nutRadius + 3) * k}H${x1}`} style={ink} />
          ))}
        </>
      );
    case 'single':
      return <circle r={66 * k} style={pale} />;
  }
  return <rect x={x0} y={y0} width={x1 - x0} height={y1 - y0} rx={6 * k} style={pale} />;
}

/** The aim of this pass as a short bar across the lane of a fastener. */
function Aim({
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

const dialDeg = (t: number) => -135 + (270 / 1.12) * Math.min(t, 1.12);

function DialAim({
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
function Dial({ f, k, aim, next }: { f: FastenerState; k: number; aim: number; next: boolean }) {
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
      {next && f.fraction < aim && (
        <path
          d={sector(45 * k, 59 * k, dialDeg(f.fraction), dialDeg(aim))}
          style={{ fill: 'url(#hNow)', stroke: 'var(--now)', strokeWidth: 1.6 }}
        />
      )}
    </>
  );
}

function PlannedBar({ at, wide, stages, r }: { at: string; wide: number; stages: number[]; r: (t: number) => number }) {
  const w = wide;
  const top = stages[stages.length - 1] ?? 1;
  const d = `M${-w / 2} ${-r(0)}V${-r(top)}H${w / 2}V${-r(0)}${stages
    .slice(0, -1)
    .map((t) => `M${-w / 2} ${-r(t)}H${w / 2}`)
    .join('')}`;
  return <path d={d} transform={at} style={{ fill: 'none', stroke: 'var(--ink)', strokeWidth: 1.1 }} />;
}

interface BarProps {
  l: JointLayout;
  f: FastenerState;
  k: number;
  r: (t: number) => number;
  tier: string;
  aim: number;
  next: boolean;
}

function Bar({ l, f, k, r, tier, aim, next }: BarProps) {
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
      {next && f.fraction < aim && (
        <rect
          x={-w / 2}
          y={-r(aim)}
          width={w}
          height={r(aim) - r(f.fraction)}
          style={{ fill: 'url(#hNow)', stroke: 'var(--now)', strokeWidth: 1.6 }}
        />
      )}
    </g>
  );
}

function Travel({ l, from, to, k, large }: { l: JointLayout; from: number; to: number; k: number; large: boolean }) {
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

/** Which of several tools is at a fastener. */
function Letter({
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

interface NutProps {
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

function Nut({ l, position, f, number, k, tier, next, look, onPick }: NutProps) {
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

function TurnArrow({ x, y, r, deg, ok }: { x: number; y: number; r: number; deg: number; ok: boolean }) {
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

function RimWord({
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
