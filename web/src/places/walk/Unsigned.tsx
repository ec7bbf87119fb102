import { useMutation, useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { api, must } from '../../api/client';
import type { KeptLook } from '../../api/kept';
import { looks } from '../../api/looks';
import { when } from '../../kit/numbers';
import { OwnPIN } from './SignPart';
import { useSaidAnew, useUnsigned } from './useWalk';

/** What was looked at without signal: signed by one PIN when it is back. */
export function Unsigned({ signal, onCorrect }: { signal: boolean; onCorrect: (l: KeptLook) => void }) {
  const anew = useSaidAnew();
  const { own, others } = useUnsigned();
  const [pin, setPIN] = useState('');
  const sign = useMutation({
    mutationFn: () => looks.sign(own, pin),
    onSettled: () => {
      setPIN('');
      anew();
    },
  });
  if (own.length === 0 && others === 0) return null;
  return (
    <section className="walk-unsigned" aria-label="Looked at, not signed">
      <h2 className="rule">Looked at, not signed</h2>
      <ul>
        {own.map((l) => (
          <One key={l.id} l={l} signal={signal} onCorrect={() => onCorrect(l)} />
        ))}
      </ul>
      {others > 0 && (
        <p className="dim">{others === 1 ? 'One look' : `${others} looks`} of others wait here for their PIN.</p>
      )}
      {own.length > 0 && !signal && (
        <p className="dim">They are on this device alone. Sign them when the signal is back.</p>
      )}
      {own.length > 0 && signal && (
        <form
          onSubmit={(e) => {
            e.preventDefault();
            sign.mutate();
          }}
        >
          <OwnPIN pin={pin} onPIN={setPIN} />
          {sign.error && (
            <p className="wrong" role="alert">
              {sign.error.message}
            </p>
          )}
          <button type="submit" className="btn now tall" disabled={!pin || sign.isPending}>
            {own.length === 1 ? `Sign ${own[0]?.tag || 'the note'}` : `Sign all ${own.length}`}
          </button>
        </form>
      )}
    </section>
  );
}

function One({ l, signal, onCorrect }: { l: KeptLook; signal: boolean; onCorrect: () => void }) {
  const [sure, setSure] = useState(false);
  const since = useQuery({
    queryKey: ['record', l.record, 'since', l.after],
    queryFn: () => must(api.GET('/records/{number}', { params: { path: { number: l.record } } })),
    enabled: signal && l.field === 'after',
  });
  const added = since.data?.additions.slice(l.after) ?? [];
  return (
    <li>
      <b className="m">{l.tag}</b> {l.note ? 'noted' : 'seen'} {when(l.at)}. {l.says}
      {l.picture && <small> With a picture.</small>}
      {l.refused && (
        <p className="wrong" role="alert">
          {l.refused}
        </p>
      )}
      {added.map((a) => (
        <p key={a.seq}>
          Added {when(a.at)} by {a.person.name}: {a.what}
        </p>
      ))}
      <div className="row-btns">
        {added.length > 0 && (
          <button type="button" className="btn" onClick={() => void looks.seen(l.id, l.after + added.length)}>
            I have seen it, mine stands
          </button>
        )}
        <button type="button" className="btn" onClick={onCorrect}>
          Correct
        </button>
        {sure ? (
          <>
            <button type="button" className="btn" onClick={() => void looks.takeOut(l.id)}>
              Yes, throw it away
            </button>
            <button type="button" className="btn" onClick={() => setSure(false)}>
              No
            </button>
          </>
        ) : (
          <button type="button" className="btn" onClick={() => setSure(true)}>
            Take out
          </button>
        )}
        {l.record && (
          <Link className="btn" to="/records/$number" params={{ number: l.record }}>
            Its record
          </Link>
        )}
      </div>
    </li>
  );
}
