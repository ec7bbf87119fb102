import { useElementSize } from '@mantine/hooks';
import { type PointerEvent, useCallback, useEffect, useMemo, useRef } from 'react';
import type { ShiftActivity, ShiftPlan } from '../../api/client';
import { Bars } from './Bars';
import type { Part } from './Frame';
import { Ground } from './Ground';
import { InTheHand, Leader, Moved, Waits } from './Laid';
import { lanesOf, laneTall, names } from './lanes';
import { ruler, stepped, worked } from './ruler';
import type { HandData } from './useHand';
import { useNow } from './useShift';
import { nameOf } from './words';

const least = 48; // px an hour
const margin = 22; // px before the first hour, for its figures
const holdMs = 350; // how long a finger rests on a bar before it is in the hand

/** Lanes of people and of tools over the time at work. */
export function Board({
  p,
  parts,
  chosen,
  hand,
  mayMove,
  onChoose,
}: {
  p: ShiftPlan;
  parts: Part[];
  chosen: ShiftActivity | undefined;
  hand: HandData;
  mayMove: boolean;
  onChoose: (a: ShiftActivity) => void;
}) {
  const { ref, width } = useElementSize();
  const now = useNow();
  const wide = Math.max(240, (width || 900) - names - margin - 34);
  const { lanes, people, free, tools, toolsAt, tall } = useMemo(() => lanesOf(p), [p]);
  const open = useMemo(() => worked(p.open, latestOf(p, hand.hand?.start)), [p, hand.hand?.start]);
  const r = useMemo(() => ruler(open, wide, least, margin), [open, wide]);
  const svg = useRef<SVGSVGElement>(null);
  const scroll = useRef<HTMLDivElement>(null);
  // A board that reaches over days opens with the present time at a third of it.
  const begin = p.begin;
  const drawn = width > 0;
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each plan, when it has its width
  useEffect(() => {
    const box = scroll.current;
    if (box && drawn && r.stretches.some((s) => s.from <= now && now <= s.to))
      box.scrollLeft = Math.max(0, r.x(now) - box.clientWidth / 3);
  }, [begin, drawn]);
  const latest = useRef({ hand, r, lanes, mayMove });
  latest.current = { hand, r, lanes, mayMove };
  const choose = useRef(onChoose);
  choose.current = onChoose;

  // Held, or drawn away with a mouse, a bar comes into the hand and follows in steps of five minutes.
  const down = useCallback((e: PointerEvent, a: ShiftActivity) => {
    const now = latest.current;
    const box = svg.current;
    if (!now.mayMove || a.begun || e.button !== 0 || !box) return;
    const laneAt = (clientY: number) => {
      const y = clientY - box.getBoundingClientRect().top;
      return latest.current.lanes.find((l) => y >= l.top && y < l.top + laneTall);
    };
    const lane = laneAt(e.clientY);
    if (!lane) return;
    const from = lane.of === 'people' ? lane.name : (a.people[0] ?? '');
    const grip = e.clientX - box.getBoundingClientRect().left - now.r.x(Date.parse(a.start));
    const began = { x: e.clientX, y: e.clientY };
    let held = false;
    const take = () => {
      held = true;
      choose.current(a);
      latest.current.hand.take(a, from);
    };
    const timer = e.pointerType === 'mouse' ? undefined : setTimeout(take, holdMs);
    const move = (m: globalThis.PointerEvent) => {
      const far = Math.hypot(m.clientX - began.x, m.clientY - began.y);
      if (!held) {
        if (far < 6) return;
        if (m.pointerType !== 'mouse') {
          end(); // a finger that moves at once scrolls
          return;
        }
        take();
      }
      const place = m.clientX - box.getBoundingClientRect().left - grip;
      const over = laneAt(m.clientY);
      latest.current.hand.moveTo(stepped(latest.current.r.at(place)), over?.of === 'people' ? over.name : from);
    };
    const noScroll = (t: TouchEvent) => held && t.preventDefault();
    const up = () => {
      end();
      if (held) latest.current.hand.putDown();
    };
    const end = () => {
      clearTimeout(timer);
      removeEventListener('pointermove', move);
      removeEventListener('pointerup', up);
      removeEventListener('pointercancel', end);
      box.removeEventListener('touchmove', noScroll);
    };
    addEventListener('pointermove', move);
    addEventListener('pointerup', up);
    addEventListener('pointercancel', end);
    box.addEventListener('touchmove', noScroll, { passive: false });
  }, []);

  const inHand = hand.hand ? nameOf(hand.hand.a) : '';
  const at = chosen ? nameOf(chosen) : '';
  const press = useCallback((a: ShiftActivity) => choose.current(a), []);
  return (
    <div className="board" ref={ref}>
      <div className="board-scroll" ref={scroll}>
        <svg className="lane-names" width={names} height={tall} aria-hidden="true">
          {p.isolations.map((iso, i) => (
            <text key={iso.code} x="0" y={57 + i * 18} className="words">
              {(iso.name || iso.code).slice(0, 18)}
            </text>
          ))}
          {lanes.map((l) => (
            <text key={`${l.of} ${l.name}`} x="0" y={l.top + laneTall - 11} className="lane-name">
              {l.name}
            </text>
          ))}
          {tools.length > 0 && (
            <text x="0" y={toolsAt} className="lane-head">
              Tools
            </text>
          )}
        </svg>
        {/* biome-ignore lint/a11y/useSemanticElements: a drawing with buttons in it is no fieldset */}
        <svg
          ref={svg}
          width={r.wide + 30}
          height={tall}
          role="group"
          aria-label="Who does what when; the same stands in the list"
        >
          <Ground p={p} r={r} lanes={lanes} tall={tall} open={open} now={now} />
          {lanes.map((l, i) => (
            <path
              key={`${l.of} ${l.name}`}
              d={`M0 ${l.top + laneTall - 2}H${r.wide}`}
              className={`lane-line${i === people.length - 1 ? ' last' : ''}`}
            />
          ))}
          <Moved p={p} lanes={lanes} r={r} />
          <Bars
            p={p}
            lanes={lanes}
            r={r}
            parts={parts}
            now={now}
            at={at}
            inHand={inHand}
            onChoose={press}
            onDown={down}
          />
          <Waits p={p} lanes={lanes} r={r} chosen={chosen?.tag} />
          {chosen && !hand.hand && <Leader a={chosen} p={p} lanes={lanes} r={r} />}
          {hand.hand && <InTheHand hand={hand.hand} lanes={lanes} r={r} />}
        </svg>
      </div>
      {free.length > 0 && <p className="dim">Free: {free.join(', ')}.</p>}
      <Legend />
    </div>
  );
}

/** The board reaches to where the work ends, or to where it is carried. */
function latestOf(p: ShiftPlan, start: number | undefined): string {
  return start && start > Date.parse(p.finish) ? new Date(start + 3_600_000).toISOString() : p.finish;
}

const samples: [string, string, string][] = [
  ['done', 'frame done', ''],
  ['in hand', 'frame begun', 'share'],
  ['to come', 'frame', ''],
  ['second person', 'frame second', ''],
  ['hold or witness', 'frame', 'kind kind-hold'],
  ['lubricate', 'frame', 'kind kind-lubricate'],
  ['prove', 'frame', 'kind kind-prove'],
  ['late', 'frame', 'late'],
];

function Legend() {
  return (
    <p className="legend dim">
      {samples.map(([word, frame, inner]) => (
        <span key={word}>
          <svg width="30" height="16" aria-hidden="true">
            <g className={frame}>
              <rect x="1" y="2" width="28" height="12" className="outline" />
              {inner === 'share' && <rect x="1" y="10" width="17" height="4" className="share" />}
              {inner === 'late' && <path d="M14 2H24L29 8L24 14H14Z" className="late" />}
              {inner.startsWith('kind') && <rect x="1" y="2" width="28" height="12" className={inner} />}
            </g>
          </svg>{' '}
          {word}
        </span>
      ))}
      <span>
        <svg width="18" height="16" aria-hidden="true">
          <path d="M5 2h8l-1 5h2v2h-4l-1 6l-1 -6h-4v-2h2z" className="pin" />
        </svg>{' '}
        pinned
      </span>
    </p>
  );
}
