import { Link } from '@tanstack/react-router';
import type { HandoverView } from '../../api/client';
import { when } from '../../kit/numbers';

/** What a note says; with onSeen each open run is confirmed by who goes on. */
export function NoteBody({ v, seen, onSeen }: { v: HandoverView; seen?: string[]; onSeen?: (runId: string) => void }) {
  const n = v.note;
  return (
    <div className="note-body">
      <p className="dim">
        From {when(n.from)} to {when(n.to)}, {v.by}
      </p>
      {v.words && <blockquote>{v.words}</blockquote>}
      <h3 className="rule">Open, and how each was left</h3>
      {n.open.length === 0 && <p className="dim">No work is open.</p>}
      <ul className="open-runs">
        {n.open.map((o) => {
          const so = seen?.includes(o.runId) || v.confirmed.includes(o.runId);
          return (
            <li key={o.runId} className={o.held ? 'held' : ''}>
              <div>
                <Link to="/joints/$tag" params={{ tag: o.tag }} className="m">
                  {o.tag}
                </Link>{' '}
                <b>{o.name}</b>
                <dl>
                  <div>
                    <dt>Last</dt>
                    <dd>{o.last}</dd>
                  </div>
                  <div>
                    <dt>Set to</dt>
                    <dd>{o.setting ? `${o.setting}${o.tools ? ` on ${o.tools}` : ''}` : 'not set yet'}</dd>
                  </div>
                  <div>
                    <dt>Stands</dt>
                    <dd>{o.condition}</dd>
                  </div>
                </dl>
              </div>
              {onSeen ? (
                <button
                  type="button"
                  className={`btn${so ? ' on' : ''}`}
                  aria-pressed={so}
                  onClick={() => onSeen(o.runId)}
                >
                  {so ? `${o.tag} is so` : `${o.tag}: it is so`}
                </button>
              ) : (
                so && <span className="dim">found so by {v.takenBy}</span>
              )}
            </li>
          );
        })}
      </ul>
      <Lines title="Behind the plan" list={n.behind} />
      <Lines title="Noted on walk-rounds" list={n.noted} />
      <Lines title="Finished" list={n.sealed} />
      <Lines title="Tools that are out" list={n.tools} />
      <Lines title="Falls due in the next day" list={n.due} />
    </div>
  );
}

function Lines({ title, list }: { title: string; list: string[] }) {
  if (list.length === 0) return null;
  return (
    <>
      <h3 className="rule">{title}</h3>
      <ul className="lines">
        {list.map((l) => (
          <li key={l}>{l}</li>
        ))}
      </ul>
    </>
  );
}
