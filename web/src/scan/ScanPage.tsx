import { useQuery } from '@tanstack/react-query';
import { getRouteApi, Link, useNavigate } from '@tanstack/react-router';
import { api, must, useLibrary } from '../api/client';
import { useSession } from '../api/session';
import { NameAndPIN } from '../app/signin';
import { dayOfYear } from '../kit/numbers';
import { openScan } from './takers';
import './scan.css';

const route = getRouteApi('/scan');

/** A tin that was scanned outside any check: what is in it, until when it may be used, and where it went. */
function Tin({ lubricant, batch, useBy }: { lubricant: string; batch: string; useBy: string }) {
  const lib = useLibrary();
  const used = useQuery({
    queryKey: ['records', 'batch', batch],
    queryFn: () => must(api.GET('/records', { params: { query: { facet: [`batch:${batch}`], limit: 8 } } })),
    enabled: batch !== '',
  });
  const card = lib.data?.lubricants.find((l) => l.code === lubricant);
  return (
    <>
      <h1 className="title">{card?.name ?? lubricant}</h1>
      <p>
        Batch <b className="m">{batch || 'not said'}</b>
        {useBy && `, use by ${dayOfYear(useBy)}`}
      </p>
      <div className="row-btns">
        {card && (
          <Link className="btn" to="/library" search={{ shelf: 'lubricants', value: lubricant }}>
            Its card
          </Link>
        )}
      </div>
      {used.data && (
        <>
          <h2 className="rule">Where this batch went</h2>
          {used.data.rows.length === 0 && <p>No record names it yet.</p>}
          <ul className="used-at">
            {used.data.rows.map((r) => (
              <li key={r.number}>
                <Link to="/records/$number" params={{ number: r.number }}>
                  {r.number}
                </Link>{' '}
                <span className="m">{r.tag}</span> {r.name}
              </li>
            ))}
          </ul>
          {used.data.rows.length > 0 && (
            <Link className="btn sm" to="/records" search={{ facet: [`batch:${batch}`] }}>
              All records with this batch
            </Link>
          )}
        </>
      )}
    </>
  );
}

/** Where the codes of tins and people lead when no check has asked for them. */
export function ScanPage() {
  const s = route.useSearch();
  const navigate = useNavigate();
  const { person, signIn } = useSession();
  return (
    <div className="page narrow">
      {s.person ? (
        <>
          <h1 className="title">Change hands</h1>
          <p className="dim">
            {person?.name} is signed in as {person?.role}.
          </p>
          <NameAndPIN
            key={s.person}
            chosen={s.person}
            verb="Go on"
            act={(p, pin, own) => signIn(p.id, pin, own)}
            onDone={() => void navigate({ to: '/' })}
          />
        </>
      ) : s.lubricant ? (
        <Tin lubricant={s.lubricant} batch={s.batch ?? ''} useBy={s.useBy ?? ''} />
      ) : (
        <>
          <h1 className="title">{s.host ? 'A code of another site' : 'Scan a code'}</h1>
          <p>
            {s.host
              ? `This code leads to ${s.host}. Open it there, or look for its tag here.`
              : 'Of a joint, a record, a tool, a tin or a person.'}
          </p>
          <button type="button" className="btn now" onClick={openScan}>
            Scan
          </button>
        </>
      )}
    </div>
  );
}
