import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import type { ShiftActivity, ShiftPlan } from '../../api/client';
import { useSession } from '../../api/session';
import { TagPlate } from '../../rosette/Glyph';
import type { HandData } from './useHand';
import type { ShiftData } from './useShift';
import { dayName, hm, kindWord, minutes, withTools } from './words';

/** The chosen part of the work, and why it begins no earlier; what may be decided about it by hand. */
export function Chosen({ a, p, d, hand }: { a: ShiftActivity; p: ShiftPlan; d: ShiftData; hand: HandData }) {
  const { may } = useSession();
  const joint = p.joints.find((j) => j.tag === a.tag);
  const all = p.activities.filter((x) => x.tag === a.tag);
  const mayPin = may('putConstraints') && !a.begun;
  return (
    <aside className="chosen-job" aria-label="The chosen part of the work">
      <div className="who-line">
        <TagPlate text={a.tag} size={18} />
        <b>{joint?.name}</b>
      </div>
      <h2>{hm(a.start)}, no earlier</h2>
      <p>
        {kindWord[a.kind]}, {minutes(a)} min, ends {hm(a.end)}
        {dayName(a.end) !== dayName(a.start) ? ` ${dayName(a.end)}` : ''}. {a.people.join(' and ')}
        {withTools(a)}.
      </p>
      <h3 className="rule">What holds it</h3>
      <p className="because">{a.why}</p>
      {a.pinned && <p>Pinned by {a.pinned}.</p>}
      {joint && (joint.isolation || joint.after.length > 0 || joint.due || joint.access || joint.skills.length > 0) && (
        <p>
          {joint.isolation && `Under isolation ${joint.isolation}. `}
          {joint.after.length > 0 && `After ${joint.after.join(', ')}. `}
          {joint.due &&
            `Due ${dayName(joint.due)} ${hm(joint.due)}${joint.late > 0 ? `, ${joint.late} min late` : ''}. `}
          {joint.skills.length > 0 && `Everybody at it has: ${joint.skills.join(', ')}. `}
          {joint.access && `To get there: ${joint.access}`}
        </p>
      )}
      {mayPin && <Pinning a={a} d={d} hand={hand} />}
      <h3 className="rule">{joint?.test ? 'The test' : 'The joint'}</h3>
      <table className="t">
        <tbody>
          {all.map((x) => (
            <tr key={x.kind}>
              <td className="m">{hm(x.start)}</td>
              <td>{x === a ? <b>{kindWord[x.kind]}</b> : kindWord[x.kind]}</td>
              <td>{x.people.join(', ')}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {joint?.test ? (
        <Link to="/joints/tests/$tag" params={{ tag: a.tag }} className="btn">
          Open {a.tag}
        </Link>
      ) : (
        <Link to="/joints/$tag" params={{ tag: a.tag }} className="btn">
          Open {a.tag}
        </Link>
      )}
    </aside>
  );
}

/** Pin it where it is, give it to somebody, not before a time; the same by hand with M. */
function Pinning({ a, d, hand }: { a: ShiftActivity; d: ShiftData; hand: HandData }) {
  const [not, setNot] = useState('');
  const people = d.constraints.data?.people ?? [];
  const busy = d.change.isPending;
  return (
    <div className="pinning">
      <div className="row-btns">
        <button type="button" className="btn sm" disabled={busy} onClick={() => hand.take(a, a.people[0] ?? '')}>
          Move it <kbd>M</kbd>
        </button>
        {a.pinned ? (
          <button type="button" className="btn sm" disabled={busy} onClick={() => hand.unpin(a)}>
            Take the pin out
          </button>
        ) : (
          <button type="button" className="btn sm" disabled={busy} onClick={() => hand.pinHere(a)}>
            Pin it <kbd>P</kbd>
          </button>
        )}
      </div>
      <label>
        Give to
        <select
          value=""
          disabled={busy}
          onChange={(e) => e.target.value && hand.pin(a, { person: e.target.value })}
          aria-label={`Give ${a.tag} ${a.kind} to`}
        >
          <option value="">{a.people[0] ?? 'nobody'}</option>
          {people
            .filter((x) => !a.ids.includes(x.id))
            .map((x) => (
              <option key={x.id} value={x.id}>
                {x.name}
              </option>
            ))}
        </select>
      </label>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (not) hand.pin(a, { notBefore: not, start: '' });
        }}
      >
        <label>
          Not before
          <input type="datetime-local" value={not} onChange={(e) => setNot(e.target.value)} />
        </label>
        <button type="submit" className="btn sm" disabled={busy || !not}>
          Set
        </button>
      </form>
    </div>
  );
}
