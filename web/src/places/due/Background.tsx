import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, must } from '../../api/client';
import { when } from '../../kit/numbers';

const words: Record<string, string> = {
  available: 'waits',
  pending: 'waits',
  scheduled: 'waits',
  running: 'at work',
  retryable: 'tried again',
  completed: 'done',
  cancelled: 'cancelled',
  discarded: 'given up',
};

/** The work that is done without anybody waiting for it: books and mail. */
export function Background({ mail }: { mail: boolean }) {
  const qc = useQueryClient();
  const q = useQuery({
    queryKey: ['background'],
    queryFn: () => must(api.GET('/background')),
    refetchInterval: 3_000,
  });
  const act = useMutation({
    mutationFn: (what: { id: number; retry: boolean } | 'remind') => {
      if (what === 'remind') return must(api.POST('/due/remind'));
      const params = { path: { id: what.id } };
      return must(
        what.retry ? api.POST('/background/{id}/retry', { params }) : api.POST('/background/{id}/cancel', { params }),
      );
    },
    onSettled: () => qc.invalidateQueries({ queryKey: ['background'] }),
  });
  const list = (q.data ?? []).filter((j) => j.kind !== 'look who is told today' || j.wrong);
  return (
    <section>
      <h2 className="rule">Work in the background</h2>
      {mail && (
        <button type="button" className="btn sm" disabled={act.isPending} onClick={() => act.mutate('remind')}>
          Send everybody their mail now
        </button>
      )}
      {(q.error ?? act.error) && (
        <p className="wrong" role="alert">
          {((q.error ?? act.error) as Error).message}
        </p>
      )}
      {q.isSuccess && list.length === 0 && <p className="empty">Nothing was done yet.</p>}
      {list.length > 0 && (
        <div className="scroll-x">
          <table className="t">
            <thead>
              <tr>
                <th>What</th>
                <th>For</th>
                <th>Stands</th>
                <th className="n">Tries</th>
                <th>When</th>
                <th>What went wrong last</th>
                <th>
                  <span className="sr">Do</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {list.map((j) => (
                <tr key={j.id}>
                  <td>{j.kind}</td>
                  <td>{j.of}</td>
                  <td>{words[j.state] ?? j.state}</td>
                  <td className="n">
                    {j.attempt} of {j.most}
                  </td>
                  <td>{when(j.next)}</td>
                  <td className="went-wrong">{j.wrong}</td>
                  <td>
                    <div className="row-btns">
                      {j.mayRetry && (
                        <button type="button" className="btn sm" onClick={() => act.mutate({ id: j.id, retry: true })}>
                          Try again
                        </button>
                      )}
                      {j.mayCancel && (
                        <button type="button" className="btn sm" onClick={() => act.mutate({ id: j.id, retry: false })}>
                          Cancel
                        </button>
                      )}
                    </div>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  );
}
