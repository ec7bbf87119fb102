import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { api, must, type Today } from '../../api/client';
import { when } from '../../kit/numbers';

/** What others ask of one: the gaps of a hand-over book, one message a work package. */
export function Asks({ list }: { list: Today['asks'] }) {
  const qc = useQueryClient();
  const aside = useMutation({
    mutationFn: (id: string) => must(api.POST('/asks/{id}/seen', { params: { path: { id } } })),
    onSuccess: () => qc.invalidateQueries({ queryKey: ['today'] }),
  });
  if (list.length === 0) return null;
  return (
    <section className="asks">
      {aside.isError && (
        <p className="wrong" role="alert">
          {(aside.error as Error).message}
        </p>
      )}
      {list.map((a) => (
        <div key={a.id} className="ask-row">
          <p>
            <b>{a.by} asks</b> for the book of <span className="m">{a.package}</span>, {when(a.at)}:{' '}
            {a.what.slice(0, 3).join('; ')}
            {a.what.length > 3 && ` and ${a.what.length - 3} more`}.
          </p>
          <Link to="/books/$code" params={{ code: a.package }} className="btn sm">
            Open the book
          </Link>
          <button type="button" className="btn sm" disabled={aside.isPending} onClick={() => aside.mutate(a.id)}>
            Put aside
          </button>
        </div>
      ))}
    </section>
  );
}
