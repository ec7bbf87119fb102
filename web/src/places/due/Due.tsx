import { useQuery } from '@tanstack/react-query';
import { getRouteApi, Link } from '@tanstack/react-router';
import { api, must } from '../../api/client';
import { useSession } from '../../api/session';
import { day, when } from '../../kit/numbers';
import { Background } from './Background';
import { Feeds } from './Feeds';
import { MailTo } from './MailTo';
import './due.css';

const route = getRouteApi('/due');

/** What falls due, one's own or that of the whole site, and the ways in which it is told outside. */
export function DuePlace() {
  const { all, kind } = route.useSearch();
  const navigate = route.useNavigate();
  const { may } = useSession();
  const q = useQuery({ queryKey: ['due'], queryFn: () => must(api.GET('/due')), refetchInterval: 60_000 });
  const list = q.data?.items ?? [];
  const mine = list.filter((i) => all || i.mine);
  const kinds = [...new Map(mine.map((i) => [i.kind, i.word])).entries()];
  const shown = mine.filter((i) => !kind || i.kind === kind);
  const set = (change: { all?: boolean; kind?: string | undefined }) =>
    void navigate({ search: (old) => ({ ...old, ...change }), replace: true });
  return (
    <div className="page due">
      <div className="row-btns">
        <h1 className="title">Falls due</h1>
        <button
          type="button"
          className={`btn sm${all ? '' : ' on'}`}
          aria-pressed={!all}
          onClick={() => set({ all: undefined })}
        >
          Mine
        </button>
        <button
          type="button"
          className={`btn sm${all ? ' on' : ''}`}
          aria-pressed={!!all}
          onClick={() => set({ all: true })}
        >
          The site's
        </button>
        {kinds.length > 1 &&
          kinds.map(([code, word]) => (
            <button
              key={code}
              type="button"
              className={`btn sm${kind === code ? ' on' : ''}`}
              aria-pressed={kind === code}
              onClick={() => set({ kind: kind === code ? undefined : code })}
            >
              {word}
            </button>
          ))}
        <span className="sp" />
        <button type="button" className="btn sm" onClick={() => print()}>
          Print
        </button>
      </div>
      {q.isError && (
        <p className="wrong" role="alert">
          {(q.error as Error).message}
        </p>
      )}
      {q.isSuccess && shown.length === 0 && (
        <p className="empty">
          {all ? 'Nothing falls due in the next sixty days.' : 'Nothing falls due for you in the next sixty days.'}
        </p>
      )}
      <ol className="due-list">
        {shown.map((i) => (
          <li key={`${i.kind}${i.says}${i.from}`} className={i.late ? 'late' : ''}>
            <span className="m at">{i.allDay ? day(i.from) : when(i.from)}</span>
            <span className="word">{i.word}</span>
            <span>
              {i.says}
              {i.late && <b className="hld"> overdue</b>}
            </span>
            {i.tag && i.kind !== 'calibration' && i.kind !== 'use_by' && (
              <Link to="/joints/$tag" params={{ tag: i.tag }} className="btn sm">
                Open {i.tag}
              </Link>
            )}
            {i.tag && i.kind === 'calibration' && (
              <Link to="/crib" search={{ tool: i.tag }} className="btn sm">
                See {i.tag}
              </Link>
            )}
          </li>
        ))}
      </ol>
      <div className="ways">
        <Feeds />
        {q.data && <MailTo key={q.data.email} mail={q.data.mail} email={q.data.email} />}
      </div>
      {may('listBackground') && <Background mail={q.data?.mail ?? false} />}
    </div>
  );
}
