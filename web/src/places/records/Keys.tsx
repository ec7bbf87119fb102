import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { api, must } from '../../api/client';
import { useSession } from '../../api/session';
import './keys.css';

const day = (t: string | undefined) =>
  t ? new Date(t).toISOString().slice(0, 16).replace('T', ' ').concat(' UTC') : '';

/** What somebody keeps outside: the public keys, and the latest anchors by their codes. Open to everybody, and made to be printed. */
export function KeysPage() {
  const { person, may } = useSession();
  const qc = useQueryClient();
  const [wrong, setWrong] = useState('');
  const q = useQuery({ queryKey: ['trust'], queryFn: () => must(api.GET('/trust')) });
  const t = q.data;
  if (q.isError) return <p className="empty">{(q.error as Error).message}</p>;
  if (!t) return <p className="empty">Fetching the keys.</p>;
  const last = t.anchors[0];
  const mail = last
    ? `mailto:?subject=${encodeURIComponent(`${t.site}: anchor ${last.number}`)}&body=${encodeURIComponent(
        `Keep this. It tells whether records were removed or history was written anew.\n\n${t.site}, anchor ${last.number}, ${day(last.at)}\n${last.code}\n`,
      )}`
    : undefined;
  async function anchor() {
    setWrong('');
    try {
      await must(api.POST('/anchors'));
      await qc.invalidateQueries({ queryKey: ['trust'] });
    } catch (e) {
      setWrong((e as Error).message);
    }
  }
  return (
    <div className="page keys-page">
      <div className="row-btns" style={{ marginTop: 0 }}>
        <h1 className="title">Keys and anchors</h1>
        <button type="button" className="btn sm" onClick={() => print()}>
          Print
        </button>
        <Link to="/verify" className="btn sm">
          Verify a file
        </Link>
      </div>
      <p className="lead">
        {t.site}. Keep this sheet away from the computer it came from. A record holds when its signature fits a key
        below, made while that key was in use.
      </p>
      {t.keys.map((k) => (
        <section key={k.id} className={`key${k.revoked ? ' out' : ''}`}>
          <h2>
            Key <span className="m">{k.id}</span>
          </h2>
          <p className="m code">{k.publicKey}</p>
          <p>
            {k.from ? `In use from ${day(k.from)}` : 'In use from the beginning'}
            {k.until ? ` to ${day(k.until)}.` : ', and still.'}
            {k.revoked && (
              <b className="neg">
                {' '}
                Not to be believed from {day(k.revoked)} on: {k.reason}.
              </b>
            )}
          </p>
        </section>
      ))}
      <div className="rule">Anchors, one a day</div>
      <p className="lead">
        An anchor holds fast every entry and every record there was. Write its code down, print it or send it to
        somebody outside: with it a removed record or a rewritten history is found, whoever did it.
      </p>
      {t.anchors.length === 0 ? (
        <p className="empty">Nothing is anchored yet. The first anchor is made within the day.</p>
      ) : (
        <table className="t">
          <thead>
            <tr>
              <th>No.</th>
              <th>Made</th>
              <th>New heads</th>
              <th>Code</th>
              {person && <th className="no-print">Keep it</th>}
            </tr>
          </thead>
          <tbody>
            {t.anchors.map((a) => (
              <tr key={a.number}>
                <td className="m">{a.number}</td>
                <td className="m">{day(a.at)}</td>
                <td className="m">{a.leaves}</td>
                <td className="m code">{a.code}</td>
                {person && (
                  <td className="no-print">
                    <a className="btn sm" href={`/api/anchors/${a.number}`} download={`anchor-${a.number}.json`}>
                      Save
                    </a>
                  </td>
                )}
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <div className="row-btns no-print">
        {mail && (
          <a className="btn" href={mail}>
            Send the last one by mail
          </a>
        )}
        {may('makeAnchor') && (
          <button type="button" className="btn" onClick={() => void anchor()}>
            Anchor now
          </button>
        )}
      </div>
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
    </div>
  );
}
