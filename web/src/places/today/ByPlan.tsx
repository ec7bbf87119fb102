import { Link } from '@tanstack/react-router';
import type { Today } from '../../api/client';
import { when } from '../../kit/numbers';
import { toolsOf } from '../shift/words';

/** One's next parts of the plans in force, with the tools to fetch. */
export function ByPlan({ list }: { list: Today['shift'] }) {
  if (list.length === 0) return null;
  return (
    <section className="by-plan">
      <div className="rule">
        Yours by the plan
        <span className="r">
          <Link to="/shift">the whole shift</Link>
        </span>
      </div>
      <ol>
        {list.map((a) => (
          <li key={`${a.tag} ${a.kind}`}>
            <span className="m">{when(a.start)}</span>
            <Link to="/joints/$tag" params={{ tag: a.tag }} className="m">
              {a.tag}
            </Link>
            <b>{a.kind}</b>
            <span>
              {a.tools.length > 0 && `fetch ${toolsOf(a)}`}
              {a.people.length > 1 && `${a.tools.length > 0 ? '; ' : ''}${a.people.join(' and ')}`}
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}
