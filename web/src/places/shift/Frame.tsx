import { memo, type PointerEvent } from 'react';
import type { ShiftActivity, ShiftPlan, ShiftStands } from '../../api/client';
import { Glyph } from '../../rosette/Glyph';
import { laneTall } from './lanes';
import type { ruler } from './ruler';
import { hm, kindWord, nameOf } from './words';

type Ruler = ReturnType<typeof ruler>;
export type Part = ShiftStands['parts'][number];

const tall = laneTall - 8;

interface FrameProps {
  acts: ShiftActivity[]; // of one joint, one after another
  second: boolean; // somebody else's work, on which this one helps
  joint: ShiftPlan['joints'][number] | undefined;
  parts: Part[];
  r: Ruler;
  now: number;
  chosen: string;
  inHand: string;
  onChoose: (a: ShiftActivity) => void;
  onDown: (e: PointerEvent, a: ShiftActivity) => void;
}

/** The parts of a joint's work in one lane: the joint by its glyph and tag, each part a place to press. */
export const Frame = memo(function Frame(f: FrameProps) {
  const first = f.acts[0];
  const last = f.acts.at(-1);
  if (!first || !last) return null;
  const left = f.r.x(Date.parse(first.start));
  const right = Math.max(left + 4, f.r.x(Date.parse(last.end)));
  const step = (a: ShiftActivity) => f.parts.find((x) => x.tag === a.tag && x.kind === a.kind)?.step ?? 'to_come';
  const all = f.acts.map(step);
  const done = all.every((s) => s === 'done');
  const begun = all.some((s) => s !== 'to_come') || f.acts.some((a) => a.begun);
  const due = f.joint?.due ? f.r.x(Date.parse(f.joint.due)) : undefined;
  const late = due !== undefined && (f.joint?.late ?? 0) > 0 && right > due;
  const [y, h] = f.second ? [3, tall - 6] : [0, tall];
  const bad = f.joint?.glyph === 'stopped' || f.joint?.glyph === 'turned_down';
  return (
    <g className={`frame${done ? ' done' : begun ? ' begun' : ''}${f.second ? ' second' : ''}`}>
      <rect x={left} y={y} width={right - left} height={h} className="outline" />
      {f.acts.map((a) => {
        const [from, to] = [
          f.r.x(Date.parse(a.start)),
          Math.max(f.r.x(Date.parse(a.start)) + 3, f.r.x(Date.parse(a.end))),
        ];
        const name = nameOf(a);
        return (
          // biome-ignore lint/a11y/useSemanticElements: a bar of a drawing; a native button cannot stand in one
          <g
            key={name}
            className={`bar bar-of-${a.kind}${f.chosen === name ? ' chosen' : ''}${f.inHand === name ? ' lifted' : ''}`}
            role="button"
            tabIndex={0}
            data-bar={name}
            aria-label={`${a.tag} ${kindWord[a.kind]}, ${hm(a.start)} to ${hm(a.end)}, ${a.people.join(', ')}${a.pinned ? `, pinned by ${a.pinned}` : ''}${words(step(a))}`}
            onClick={() => f.onChoose(a)}
            onPointerDown={(e) => f.onDown(e, a)}
            onKeyDown={(e) => {
              if (e.key === 'Enter' || e.key === ' ') {
                e.preventDefault();
                f.onChoose(a);
              }
            }}
          >
            <rect x={from} y={y} width={to - from} height={h} className={`kind kind-${a.kind}`} />
            {step(a) === 'in_hand' && <Foot from={from} to={to} a={a} now={f.now} y={y + h} />}
          </g>
        );
      })}
      {late && <Late due={Math.max(due, left)} right={right} y={y} h={h} />}
      {bad && <rect x={left} y={y + h - 5} width={right - left} height="5" className={`foot-${f.joint?.glyph}`} />}
      <Label f={f} />
      {f.acts
        .filter((a) => a.pinned)
        .map((a) => (
          <path
            key={nameOf(a)}
            d={`M${f.r.x(Date.parse(a.end)) - 5} -3h8l-1 6h2v2h-4l-1 6l-1 -6h-4v-2h2z`}
            className="pin"
          />
        ))}
    </g>
  );
});

const words = (s: Part['step']) => (s === 'to_come' ? '' : s === 'done' ? ', done' : ', in hand');

/** Glyph and tag, in the widest part that is not hatched; the tag alone where there is no room for both. */
function Label({ f }: { f: FrameProps }) {
  let best = { from: 0, wide: 0 };
  for (const a of f.acts) {
    const [from, to] = [f.r.x(Date.parse(a.start)), f.r.x(Date.parse(a.end))];
    if (a.kind !== 'hold' && a.kind !== 'witness' && to - from > best.wide) best = { from, wide: to - from };
  }
  const tag = f.acts[0]?.tag ?? '';
  const need = tag.length * 7.9;
  if (best.wide > need + 28 && !f.second && f.joint)
    return (
      <g className="mark" transform={`translate(${best.from + 3} ${(tall - 18) / 2})`}>
        {f.joint.test ? (
          <path d="M1 15V8H6L9 2V15" className="trace" />
        ) : (
          <Glyph family={f.joint.family} count={f.joint.bolts} state={f.joint.glyph} size={18} />
        )}
        <text x="22" y="13.5">
          {tag}
        </text>
      </g>
    );
  const narrow = tag.length * 6 + 4;
  if (best.wide > narrow)
    return (
      <text x={best.from + 3} y={tall - 6.5} className={best.wide > need + 5 ? '' : 'narrow'}>
        {tag}
      </text>
    );
  return null;
}

/** How much of a part in hand is done, by its time. */
function Foot({ from, to, a, now, y }: { from: number; to: number; a: ShiftActivity; now: number; y: number }) {
  const [start, end] = [Date.parse(a.start), Date.parse(a.end)];
  const share = Math.max(0.04, Math.min(1, (now - start) / Math.max(1, end - start)));
  return <rect x={from} y={y - 5} width={(to - from) * share} height="5" className="share" />;
}

/** An upright where it was due; what lies past it is striped and ends in a point. */
function Late({ due, right, y, h }: { due: number; right: number; y: number; h: number }) {
  const tip = Math.min(8, right - due);
  return (
    <g>
      <path d={`M${due} ${y}H${right - tip}L${right} ${y + h / 2}L${right - tip} ${y + h}H${due}Z`} className="late" />
      <path d={`M${due} ${y - 2}V${y + h + 2}`} className="due" />
    </g>
  );
}
