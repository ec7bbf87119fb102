import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { api, must } from '../../api/client';
import { when } from '../../kit/numbers';
import { kindWord, withTools } from '../shift/words';
import type { Reading } from './useRead';

/** What the plan of the shift says of a joint not yet begun, and where more tools pull at once than in its own plan. */
export function ByShift({ r }: { r: Reading }) {
  const { tag, plan, begun } = r;
  const parts = useQuery({
    queryKey: ['joint', tag, 'planned'],
    queryFn: () => must(api.GET('/joints/{tag}/planned', { params: { path: { tag } } })),
    enabled: !begun && tag !== '',
  });
  const list = parts.data ?? [];
  if (begun || list.length === 0) return null;
  const counted = list.find((a) => a.kind === 'tighten')?.together ?? 0;
  const own = plan?.choices.together || 1;
  return (
    <section className="by-shift">
      <div className="rule">
        By the plan of the shift
        <span className="r">
          <Link to="/shift">the whole shift</Link>
        </span>
      </div>
      <ol>
        {list.map((a) => (
          <li key={a.kind}>
            <span className="m">{when(a.start)}</span>
            <b>{kindWord[a.kind]}</b>
            <span>
              {a.people.join(' and ')}
              {withTools(a)}
            </span>
          </li>
        ))}
      </ol>
      {counted > own && (
        <div className="finding caution">
          <b>
            The shift counts on {counted} tools that pull at once; this plan has {own === 1 ? 'one' : own}.
          </b>
          <div>Without them tightening takes longer than the shift allows for it.</div>
          <button type="button" className="btn" onClick={() => r.together(counted)}>
            Plan it for {counted} tools
          </button>
        </div>
      )}
    </section>
  );
}
