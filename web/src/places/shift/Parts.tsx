import { Link } from '@tanstack/react-router';
import type { ShiftPlan } from '../../api/client';
import { useSession } from '../../api/session';
import { num } from '../../kit/numbers';
import { Glyph } from '../../rosette/Glyph';
import type { Part } from './Frame';
import { laneOf } from './ruler';
import { dayName, hm, kindWord, nameOf, withTools } from './words';

function ToJoint({ tag, test }: { tag: string; test: boolean }) {
  return test ? (
    <Link to="/joints/tests/$tag" params={{ tag }} className="m">
      {tag}
    </Link>
  ) : (
    <Link to="/joints/$tag" params={{ tag }} className="m">
      {tag}
    </Link>
  );
}

/** The same for each person, one's own first, in order: for phone, print and screen reader. */
export function List({ p, parts }: { p: ShiftPlan; parts: Part[] }) {
  const step = (a: { tag: string; kind: string }) => parts.find((x) => x.tag === a.tag && x.kind === a.kind);
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
                      <ToJoint tag={a.tag} test={j?.test ?? false} /> <b>{kindWord[a.kind]}</b>
                      {step(a)?.step === 'done' && ', done'}
                      {step(a)?.step === 'in_hand' && ', in hand'}
                      {(step(a)?.behind ?? 0) > 0 && <b className="hld">, {step(a)?.behind} min behind</b>}
                      {withTools(a)}
                      {a.people.length > 1 && `, and ${a.people.filter((n) => n !== l.name).join(', ')}`}
                      {a.pinned && ', pinned'}
                      <small>
                        {a.why}
                        {j?.access && ` To get there: ${j.access}`}
                      </small>
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
            <ToJoint tag={j.tag} test={j.test} />
            <span>{j.left}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What estimated times are corrected by: how long checks, pulls and rounds took at finished joints of the site. */
export function Paces({ p }: { p: ShiftPlan }) {
  if (p.paces.length === 0) return null;
  return (
    <p className="dim paces">
      {p.paces
        .map(
          (x) =>
            `${x.family}: ${x.word} took ${num(x.median)} times what was estimated at the last ${x.n === 1 ? 'finished joint' : `${x.n} finished joints`}, planned with ${num(x.correction)}`,
        )
        .join('; ')}
      .
    </p>
  );
}
