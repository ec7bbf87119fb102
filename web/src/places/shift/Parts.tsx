import { Link } from '@tanstack/react-router';
import type { ShiftActivity, ShiftPlan } from '../../api/client';
import { useSession } from '../../api/session';
import { Glyph, TagPlate } from '../../rosette/Glyph';
import { laneOf } from './ruler';
import { dayName, hm, minutes, nameOf } from './words';

/** The chosen part of the work, and why it begins no earlier. */
export function Chosen({ a, p }: { a: ShiftActivity; p: ShiftPlan }) {
  const joint = p.joints.find((j) => j.tag === a.tag);
  const all = p.activities.filter((x) => x.tag === a.tag);
  return (
    <aside className="chosen-job" aria-label="The chosen part of the work">
      <div className="who-line">
        <TagPlate text={a.tag} size={18} />
        <b>{joint?.name}</b>
      </div>
      <h2>{hm(a.start)}, no earlier</h2>
      <p>
        {a.kind}, {minutes(a)} min, ends {hm(a.end)}
        {dayName(a.end) !== dayName(a.start) ? ` ${dayName(a.end)}` : ''}. {a.people.join(' and ')}
        {a.tools.length > 0 && ` with ${a.tools.join(' + ')}`}.
      </p>
      <h3 className="rule">What holds it</h3>
      <p className="because">{a.why}</p>
      <h3 className="rule">The joint</h3>
      <table className="t">
        <tbody>
          {all.map((x) => (
            <tr key={x.kind}>
              <td className="m">{hm(x.start)}</td>
              <td>{x === a ? <b>{x.kind}</b> : x.kind}</td>
              <td>{x.people.join(', ')}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <Link to="/joints/$tag" params={{ tag: a.tag }} className="btn">
        Open {a.tag}
      </Link>
    </aside>
  );
}

/** The same for each person, one's own first, in order: for phone, print and screen reader. */
export function List({ p }: { p: ShiftPlan }) {
  const { person } = useSession();
  const mine = (name: string) => name === person?.name;
  return (
    <div className="shift-list">
      {[...p.people.filter(mine), ...p.people.filter((n) => !mine(n))]
        .map((name) => ({ name, acts: laneOf(p.activities, 'people', name) }))
        .filter((l) => l.acts.length > 0)
        .map((l) => (
          <section key={l.name}>
            <h2 className="rule">{mine(l.name) ? `${l.name}, you` : l.name}</h2>
            <ol>
              {l.acts.map((a) => {
                const j = p.joints.find((x) => x.tag === a.tag);
                return (
                  <li key={nameOf(a)}>
                    <span className="m when">
                      {p.open.length > 2 && `${dayName(a.start)} `}
                      {hm(a.start)} to {hm(a.end)}
                    </span>
                    <Glyph family={j?.family} count={j?.bolts ?? 0} state={j?.glyph ?? 'waiting'} size={36} />
                    <span>
                      <Link to="/joints/$tag" params={{ tag: a.tag }} className="m">
                        {a.tag}
                      </Link>{' '}
                      <b>{a.kind}</b>
                      {a.tools.length > 0 && ` with ${a.tools.join(' + ')}`}
                      {a.people.length > 1 && `, and ${a.people.filter((n) => n !== l.name).join(', ')}`}
                      <small>{a.why}</small>
                    </span>
                  </li>
                );
              })}
            </ol>
          </section>
        ))}
    </div>
  );
}

/** Joints of the package that are not in the plan, and why; what cannot all hold. */
export function Left({ p }: { p: ShiftPlan }) {
  const left = p.joints.filter((j) => j.left);
  if (left.length === 0) return null;
  return (
    <section className="shift-left">
      <h2 className="rule">Not in this plan</h2>
      {p.forbids.map((f) => (
        <p key={f} className="finding">
          {f}
        </p>
      ))}
      <ul>
        {left.map((j) => (
          <li key={j.tag}>
            <Glyph family={j.family} count={j.bolts} state={j.glyph} size={28} />
            <Link to="/joints/$tag" params={{ tag: j.tag }} className="m">
              {j.tag}
            </Link>
            <span>{j.left}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
