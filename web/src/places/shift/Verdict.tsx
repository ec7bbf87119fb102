import { Link } from '@tanstack/react-router';
import type { ShiftPlan } from '../../api/client';
import { useSession } from '../../api/session';
import { when } from '../../kit/numbers';
import type { ShiftData } from './useShift';
import { dayName, hm } from './words';

/** How good the plan is, what has changed since it holds, and what to do about it. */
export function Verdict({
  d,
  p,
  list,
  onList,
}: {
  d: ShiftData;
  p: ShiftPlan;
  list: boolean;
  onList: (on: boolean) => void;
}) {
  const { may } = useSession();
  const { fresh, held, plan, take, change } = d;
  const old = fresh ? [] : (d.stands.data?.old ?? []);
  const mayPlan = may('putShiftInForce');
  return (
    <div className={`verdict-line${old.length > 0 ? ' old' : ''}`} role="status">
      <div className="how">
        {old.length > 0 ? (
          <p>
            <b>{old[0]}</b> {old.slice(1, 3).join(' ')}
            {old.length > 3 && ` And ${old.length - 3} more.`}
          </p>
        ) : (
          <HowGood p={p} />
        )}
        {!fresh && held && (
          <p>
            In force since {when(held.at)}, by {held.by}.
            {!d.online && ' Live updates are off: the times are of when the page was last heard.'}
          </p>
        )}
        {fresh && held && <Against p={p} />}
        {p.risks.slice(0, 1).map((r) => (
          <p key={r} className="dim">
            {r}
          </p>
        ))}
      </div>
      <span className="sp" />
      <button type="button" className={`btn sm${list ? '' : ' on'}`} aria-pressed={!list} onClick={() => onList(false)}>
        Board
      </button>
      <button type="button" className={`btn sm${list ? ' on' : ''}`} aria-pressed={list} onClick={() => onList(true)}>
        List
      </button>
      <button type="button" className="btn sm" onClick={() => print()}>
        Print
      </button>
      <Link to="/shift/constraints" search={{ package: d.code }} className="btn sm">
        Constraints
      </Link>
      <Link to="/progress" search={{ package: d.code }} className="btn sm">
        Progress
      </Link>
      <Link to="/handover" className="btn sm">
        Hand-over
      </Link>
      {may('undoConstraints') && d.constraints.data?.undoes && (
        <button type="button" className="btn sm" disabled={change.isPending} onClick={() => change.mutate('undo')}>
          Undo
        </button>
      )}
      {fresh && !p.best && !d.longer && p.activities.length > 0 && (
        <button type="button" className="btn sm" onClick={() => d.setLonger(true)}>
          Look longer
        </button>
      )}
      {!fresh && (
        <button
          type="button"
          className={`btn ${old.length > 0 && mayPlan ? 'now' : 'sm'}`}
          aria-keyshortcuts="R"
          onClick={() => d.set({ anew: true })}
        >
          Plan again <kbd>R</kbd>
        </button>
      )}
      {fresh && held && (
        <button
          type="button"
          className="btn sm"
          onClick={() => void d.navigate({ search: { package: d.code }, replace: true })}
        >
          Back to the one in force
        </button>
      )}
      {fresh && mayPlan && p.activities.length > 0 && (
        <button
          type="button"
          className="btn now"
          disabled={take.isPending || plan.isFetching}
          onClick={() => take.mutate()}
        >
          Use this plan
        </button>
      )}
      {plan.isFetching && <span className="dim">looking</span>}
    </div>
  );
}

function HowGood({ p }: { p: ShiftPlan }) {
  const left = p.joints.filter((j) => j.left === 'does not fit').length;
  const late = p.joints.filter((j) => j.late > 0).length;
  if (p.activities.length === 0) return <b>{left > 0 ? 'None of the joints fits.' : 'No work to plan.'}</b>;
  const over = Math.round((Date.parse(p.finish) - Date.parse(p.bound)) / 60_000);
  const done = `${dayName(p.finish)} ${hm(p.finish)}`;
  return (
    <p>
      <b>{left > 0 ? `${left} of the joints do not fit.` : `Done by ${done}.`}</b>{' '}
      {late > 0 && `${late === 1 ? 'One joint is' : `${late} joints are`} late. `}
      {left > 0
        ? `The others are done by ${done}.`
        : p.best
          ? 'No plan ends earlier.'
          : `No plan ends before ${dayName(p.bound)} ${hm(p.bound)}: ${p.boundBy}. This plan is ${over} min over that.`}{' '}
      {p.p80 > p.finish &&
        `As work takes: by ${dayName(p.p50)} ${hm(p.p50)} in 50 of 100, by ${dayName(p.p80)} ${hm(p.p80)} in 80.`}
    </p>
  );
}

/** What a new plan does to the one in force. */
function Against({ p }: { p: ShiftPlan }) {
  return (
    <p>
      {p.moves.length === 0
        ? 'Nothing moves against the plan in force.'
        : `${p.moves.length === 1 ? 'One part moves' : `${p.moves.length} parts move`} against the plan in force: their old places are dotted.`}
      {p.costs > 0 && ` Keeping what is near as announced costs ${p.costs} min.`}
    </p>
  );
}
