import type { ReactNode } from 'react';
import type { FastenerState } from '../api/client';
import { annulus, circleLayout, type Place, placedLayout, polar, round2, torqueRadius } from './geometry';
import { Aim, Bar, Dial, DialAim, frame, PlannedBar, Tally, Travel } from './RosetteBars';
import { Body } from './RosetteBody';
import { Letter, Nut, RimWord } from './RosetteNuts';

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
  easing?: boolean; // bars go down to the aim: the joint is taken apart
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

const _bad = new Set(['over']);

const _held = new Set(['short']);

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
      {single && fasteners[0] && <Dial f={fasteners[0]} k={k} aim={aim} next={p.next === 1} easing={p.easing} />}
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
              <Bar
                key={f.position}
                l={l}
                f={f}
                k={k}
                r={r}
                tier={tier}
                aim={aim}
                next={f.position === p.next}
                easing={p.easing}
              />
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
