import { useRef, useState } from 'react';
import type { ShiftActivity } from '../../api/client';
import { useSession } from '../../api/session';
import { Board } from './Board';
import { Chosen } from './Chosen';
import type { Part } from './Frame';
import { InHand } from './InHand';
import { Left, List, Paces } from './Parts';
import { Sentence } from './Sentence';
import { useHand } from './useHand';
import { useShift } from './useShift';
import { useShiftKeys } from './useShiftKeys';
import { Verdict } from './Verdict';
import { WeekStrip } from './WeekStrip';
import { nameOf } from './words';
import './shift.css';

const none: Part[] = [];

/** Who does what at the joints of a work package, with which tool, by when. */
export function ShiftPlace() {
  const d = useShift();
  const hand = useHand(d);
  const { may } = useSession();
  const [list, setList] = useState(() => matchMedia('(max-width: 700px)').matches);
  const scroller = useRef<HTMLDivElement>(null);
  const p = d.shown;
  const mayMove = may('moveShift');
  const chosen = p?.activities.find((a) => nameOf(a) === d.search.at) ?? p?.activities[0];
  const choose = (a: ShiftActivity) => d.set({ at: nameOf(a) });
  const parts = d.fresh ? none : (d.stands.data?.parts ?? none);
  useShiftKeys({
    p,
    chosen,
    hand,
    choose,
    may: mayMove && !list,
    list: () => setList((on) => !on),
    anew: () => d.set({ anew: true }),
  });
  const toDay = (from: string) => {
    const first = p?.activities.find((a) => a.start >= from);
    if (!first) return;
    choose(first);
    setTimeout(
      () =>
        scroller.current
          ?.querySelector(`[data-bar="${CSS.escape(nameOf(first))}"]`)
          ?.scrollIntoView({ inline: 'start', block: 'nearest' }),
      50,
    );
  };
  return (
    <div className="shift" ref={scroller}>
      <Sentence d={d} />
      {d.packages.isSuccess && !d.code && (
        <p className="empty">No work package yet. Give joints one in the register.</p>
      )}
      {[d.plan.error, d.take.error, d.change.error].map(
        (e) =>
          e && (
            <p key={e.message} className="wrong" role="alert">
              {e.message}
            </p>
          ),
      )}
      {d.code && !p && !d.plan.isError && <p className="empty">Planning.</p>}
      {p && (
        <>
          <WeekStrip p={p} parts={parts} onDay={toDay} />
          <div className="lines">
            {/* it keeps its place while something is in hand: the board must not move under the pointer */}
            <div className={hand.hand ? 'kept' : undefined}>
              <Verdict d={d} p={p} list={list} onList={setList} />
            </div>
            {hand.hand && (
              <div className="verdict-line hand-line" role="status">
                <p className="how">
                  <b>{hand.hand.a.tag} in your hand.</b> Hatched: the nearest place where nothing breaks.
                </p>
                <span className="keys dim">
                  <kbd>←</kbd> <kbd>→</kbd> 5 min <kbd>↑</kbd> <kbd>↓</kbd> person <kbd>Enter</kbd> put down{' '}
                  <kbd>Esc</kbd> back
                </span>
              </div>
            )}
          </div>
          {p.activities.length === 0 ? (
            <p className="empty">
              {p.forbids.length > 0
                ? 'Give it more time, or look below at what stands in the way.'
                : 'Nothing of this package is to be planned: what is left of it stands below.'}
            </p>
          ) : list ? (
            <List p={p} parts={parts} />
          ) : (
            <div className="board-and">
              <Board p={p} parts={parts} chosen={chosen} hand={hand} mayMove={mayMove} onChoose={choose} />
              {hand.hand ? <InHand hand={hand} p={p} /> : chosen && <Chosen a={chosen} p={p} d={d} hand={hand} />}
            </div>
          )}
          <Left p={p} />
          <Paces p={p} />
        </>
      )}
    </div>
  );
}
