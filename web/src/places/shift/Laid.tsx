import type { ShiftActivity, ShiftPlan } from '../../api/client';
import { type Lane, laneTall } from './lanes';
import type { ruler } from './ruler';
import type { Hand } from './useHand';
import { hm, nameOf } from './words';

type Ruler = ReturnType<typeof ruler>;

// What is laid over the bars: where they stood before, what holds the chosen one, and the one in the hand.

/** Old places of what stands elsewhere than in the plan in force, dotted. */
export function Moved({ p, lanes, r }: { p: ShiftPlan; lanes: Lane[]; r: Ruler }) {
  return (
    <g>
      {p.moves.flatMap((m) =>
        lanes
          .filter((l) => l.of === 'people' && m.people.includes(l.name))
          .map((l) => {
            const [from, to] = [r.x(Date.parse(m.start)), r.x(Date.parse(m.end))];
            return (
              <rect
                key={`${nameOf(m)} ${l.name}`}
                x={from}
                y={l.top + 1}
                width={Math.max(3, to - from)}
                height={laneTall - 6}
                className="was"
              />
            );
          }),
      )}
    </g>
  );
}

/** What passes between two parts of a joint's work: each wait, and for the chosen joint how long its lubricant lives. */
export function Waits({ p, lanes, r, chosen }: { p: ShiftPlan; lanes: Lane[]; r: Ruler; chosen: string | undefined }) {
  return (
    <g className="waits">
      {p.waits
        .filter((w) => !w.most || w.tag === chosen)
        .map((w) => {
          const by = p.activities.find((a) => nameOf(a) === nameOf(w))?.people[0];
          const lane = lanes.find((l) => l.of === 'people' && l.name === by);
          const [from, to] = [r.x(Date.parse(w.from)), r.x(Date.parse(w.to))];
          if (!lane || to - from < 2) return null;
          const y = lane.top + laneTall - 4;
          const says = w.most ? `${w.what} lives ${w.minutes} min` : `${w.tag} ${w.what} ${w.minutes} min`;
          const wide = says.length * 6.2 + 8;
          return (
            <g key={`${nameOf(w)} ${w.most}`}>
              <path d={`M${from} ${y - 4}V${y + 4}M${from} ${y}H${to}M${to} ${y - 4}V${y + 4}`} className="dim-line" />
              {to - from > wide + 12 && (
                <>
                  <rect x={(from + to - wide) / 2} y={y - 7} width={wide} height="13" className="at-work" />
                  <text x={(from + to) / 2} y={y + 4} textAnchor="middle" className="words small">
                    {says}
                  </text>
                </>
              )}
              <title>{says}</title>
            </g>
          );
        })}
    </g>
  );
}

/** A line from what binds the chosen one to where it begins. */
export function Leader({ a, p, lanes, r }: { a: ShiftActivity; p: ShiftPlan; lanes: Lane[]; r: Ruler }) {
  const binder = p.activities.find((x) => nameOf(x) === a.binds);
  const to = lanes.find((l) => l.of === 'people' && l.name === a.people[0]);
  const from = lanes.find((l) => binder && (l.of === 'tools' ? binder.tools : binder.people).includes(l.name));
  if (!binder || !to || !from) return null;
  const [x1, y1] = [r.x(Date.parse(binder.end)), from.top + laneTall / 2 - 2];
  const [x2, y2] = [r.x(Date.parse(a.start)), to.top + laneTall / 2 - 2];
  const mid = Math.min(x1, x2) - 6;
  return (
    <g className="leader">
      <path d={from === to ? `M${x1} ${y1}L${x2} ${y2}` : `M${x1} ${y1}H${mid}V${y2}H${x2}`} />
      <circle cx={x1} cy={y1} r="4" />
      <circle cx={x2} cy={y2} r="4" />
    </g>
  );
}

/** The bar in the hand, judged: cross-hatched where it breaks something, and the nearest place where nothing breaks. */
export function InTheHand({ hand, lanes, r }: { hand: Hand; lanes: Lane[]; r: Ruler }) {
  const lane = lanes.find((l) => l.of === 'people' && l.name === hand.to);
  if (!lane) return null;
  const v = hand.verdict;
  const long = Date.parse(hand.a.end) - Date.parse(hand.a.start);
  const end = v ? Date.parse(v.end) : hand.start + long;
  const [from, to] = [r.x(hand.start), Math.max(r.x(hand.start) + 8, r.x(end))];
  const breaks = (v?.breaks.length ?? 0) > 0;
  const flag = breaks
    ? `${v?.breaks.length === 1 ? 'one rule breaks' : `${v?.breaks.length} rules break`}`
    : v
      ? 'breaks nothing'
      : 'looking';
  const flagX = to + 190 > r.wide ? from - 184 : to + 8;
  return (
    <g className={`in-hand${breaks ? ' breaks' : v ? ' fits' : ''}`}>
      {v?.nearest && (
        <rect
          x={r.x(Date.parse(v.nearest))}
          y={lane.top + 2}
          width={Math.max(8, to - from)}
          height={laneTall - 8}
          className="nearest"
        />
      )}
      <rect x={from} y={lane.top} width={to - from} height={laneTall - 4} className="held" />
      <g transform={`translate(${Math.max(0, flagX)} ${lane.top - 6})`} pointerEvents="none">
        <rect width="178" height="40" className="flag" />
        <text x="8" y="17" className="flag-head">
          {hand.a.tag}, {hand.to.slice(0, 12)} {hm(hand.start)}
        </text>
        <text x="8" y="33" className="flag-text">
          {flag}
        </text>
      </g>
    </g>
  );
}
