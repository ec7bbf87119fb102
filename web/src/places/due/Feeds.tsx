import { useClipboard } from '@mantine/hooks';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, must } from '../../api/client';
import { useSession } from '../../api/session';
import { when } from '../../kit/numbers';

/** Calendars that other programs subscribe to by a secret address. */
export function Feeds() {
  const { may } = useSession();
  const qc = useQueryClient();
  const copy = useClipboard();
  const [made, setMade] = useState('');
  const q = useQuery({ queryKey: ['feeds'], queryFn: () => must(api.GET('/feeds')) });
  const again = () => qc.invalidateQueries({ queryKey: ['feeds'] });
  const make = useMutation({
    mutationFn: (site: boolean) => must(api.POST('/feeds', { body: { site } })),
    onSuccess: (f) => {
      setMade(`${location.origin}${f.path}`);
      void again();
    },
  });
  const drop = useMutation({
    mutationFn: (id: string) => must(api.POST('/feeds/{id}/withdraw', { params: { path: { id } } })),
    onSuccess: () => {
      setMade('');
      void again();
    },
  });
  const wrong = make.error ?? drop.error;
  const list = q.data ?? [];
  const site = may('putShiftInForce');
  return (
    <section>
      <h2 className="rule">As a calendar</h2>
      <p className="dim">
        Whoever has the address reads it, without signing in. Withdraw it when it is no longer yours alone.
      </p>
      <ul className="held">
        {list.map((f) => (
          <li key={f.id}>
            <span>
              <b>{f.site ? 'Of the site' : 'Your own'}</b>
              <small>
                made {when(f.madeAt)} by {f.madeBy}
                {f.readAt ? `, last read ${when(f.readAt)}` : ', not read yet'}
              </small>
            </span>
            {(!f.site || site) && (
              <button type="button" className="btn sm" disabled={drop.isPending} onClick={() => drop.mutate(f.id)}>
                Withdraw {f.site ? 'the site’s' : 'it'}
              </button>
            )}
          </li>
        ))}
      </ul>
      {made && (
        <div className="finding" role="status">
          <p>The address, told this once:</p>
          <p className="m address">{made}</p>
          <button type="button" className="btn sm" onClick={() => copy.copy(made)}>
            {copy.copied ? 'Copied' : 'Copy it'}
          </button>
        </div>
      )}
      {wrong && (
        <p className="wrong" role="alert">
          {(wrong as Error).message}
        </p>
      )}
      <div className="row-btns">
        <button type="button" className="btn" disabled={make.isPending} onClick={() => make.mutate(false)}>
          Make a calendar of mine
        </button>
        {site && (
          <button type="button" className="btn" disabled={make.isPending} onClick={() => make.mutate(true)}>
            Make one of the site
          </button>
        )}
      </div>
    </section>
  );
}
