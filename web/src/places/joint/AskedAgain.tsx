import type { RunEvent } from '../../api/client';
import type { RunStore } from '../../api/runStore';
import { useSession } from '../../api/session';

/** What is asked for again when something is let go or changed, before it is said. */
export function AskedAgain({
  store,
  event,
}: {
  store: RunStore | undefined;
  event: Partial<RunEvent> & Pick<RunEvent, 'kind'>;
}) {
  const { person } = useSession();
  if (!store || !person) return null;
  const a = store.asksAgain(store.complete(person, event));
  if (!a) return null;
  const list = [...a.passes, ...a.checks];
  if (!list.length) return <p className="dim">Nothing that was done is asked for again.</p>;
  return (
    <div className="again" role="status">
      <b>Asked for again:</b>
      <ul>
        {list.map((t) => (
          <li key={t}>{t}</li>
        ))}
      </ul>
    </div>
  );
}
