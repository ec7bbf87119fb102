import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { Refused } from '../../api/client';
import { looks, NotAlong, nextToSee } from '../../api/looks';
import { useSession } from '../../api/session';
import { like } from '../../core/core';
import { when } from '../../kit/numbers';
import { Glyph, glyphWords } from '../../rosette/Glyph';
import { Check } from './Check';
import { useUnsigned, useWalkJoint } from './useWalk';

const edges: Record<string, string> = {
  accepted: 'ok',
  stopped: 'striped',
  turned_down: 'hatched',
  due_again: 'striped',
};

/** A joint to whoever stands before it: how it stands, what to watch, and what to do about it. */
export function JointState({
  tag,
  checking,
  onCheck,
  onNote,
  onGo,
}: {
  tag: string;
  checking: boolean;
  onCheck: (on: boolean) => void;
  onNote: () => void; // of a tag that is not there
  onGo: (tag: string | undefined) => void;
}) {
  const { may } = useSession();
  const q = useWalkJoint(tag);
  const { own } = useUnsigned();
  const along = useQuery({
    queryKey: ['walk-kept', q.data?.asOf],
    queryFn: () => looks.taken(),
    enabled: !!q.data?.asOf,
  });
  if (q.isError) return <NotThere tag={tag} error={q.error} onGo={onGo} onNote={may('putWalk') ? onNote : undefined} />;
  if (!q.data) return <p className="dim">Looking.</p>;
  const { joint: j, asOf } = q.data;
  const look = own.find((l) => l.tag === tag && !l.note);
  const next = asOf ? nextToSee(along.data ?? [], tag, new Set(own.filter((l) => !l.note).map((l) => l.tag))) : j.next;
  const word = glyphWords[j.glyph] ?? j.glyph;
  const why = j.why.filter((w) => w !== j.summary && w !== word); // not what is said above
  const rows: [string, string][] = [
    ['watch', j.watch || 'nothing stood out'],
    ['falls due', j.fallsDue || 'nothing'],
    ['last walked', j.walkedAt ? `${when(j.walkedAt)} by ${j.walkedBy}` : 'not yet'],
  ];
  return (
    <section className="walk-joint" aria-label={j.tag}>
      <div className={`edge ${edges[j.glyph] ?? ''}`} />
      <div className="state">
        <div>
          <h2 className="word">{word.charAt(0).toUpperCase() + word.slice(1)}</h2>
          {asOf && <p className="walk-asof">as of {when(asOf)}</p>}
          <p>
            {j.sealedAt
              ? `${when(j.sealedAt)}, sealed, ${j.holds ? 'record holds' : 'record does not hold'}.`
              : j.summary && j.summary !== word
                ? j.summary
                : 'No record yet.'}
          </p>
          {j.says.map((s) => (
            <p key={s}>{s}</p>
          ))}
          <p>
            <b className="m">{j.tag}</b> {j.name}, {j.area}
          </p>
        </div>
        <Glyph family={j.family} count={j.bolts} state={j.glyph} size={150} />
      </div>
      {why.length > 0 && <p className="why">{why.join('; ')}</p>}
      {look && !checking && (
        <p className="why">
          You looked at {when(look.at)}, not signed yet. {look.says}
        </p>
      )}
      <dl>
        {rows.map(([k, v]) => (
          <div key={k}>
            <dt>{k}</dt>
            <dd>{v}</dd>
          </div>
        ))}
      </dl>
      {checking && j.record ? (
        <Check
          j={j}
          look={look}
          away={!!asOf}
          onBack={() => onCheck(false)}
          onDone={(to) => onGo((to ?? next) || undefined)}
        />
      ) : (
        <div className="walk-acts">
          {j.mayCheck && may('putWalk') ? (
            <button type="button" className="btn now tall" onClick={() => onCheck(true)}>
              {look ? `Correct ${j.tag}` : `Check ${j.tag}`}
            </button>
          ) : (
            <Link className="btn now tall" to="/joints/$tag" params={{ tag: j.tag }}>
              Open {j.tag}
            </Link>
          )}
          <button type="button" className="btn tall" disabled={!next} onClick={() => onGo(next)}>
            {next ? `Pass by, to ${next}` : 'No other waits'}
          </button>
        </div>
      )}
    </section>
  );
}

/** A tag that is not there, or that was not taken along: what may be meant by it. */
function NotThere({
  tag,
  error,
  onGo,
  onNote,
}: {
  tag: string;
  error: Error;
  onGo: (tag: string) => void;
  onNote: (() => void) | undefined;
}) {
  const unknown = error instanceof Refused && error.problem.status === 404;
  const meant = unknown ? (error.problem.choices ?? []) : error instanceof NotAlong ? like(tag, error.tags) : [];
  return (
    <section className="walk-joint" role="alert">
      <h2 className="word">{unknown ? `No joint ${tag} here.` : error.message}</h2>
      <div className="row-btns">
        {meant.map((t) => (
          <button key={t} type="button" className="btn" onClick={() => onGo(t)}>
            {t}?
          </button>
        ))}
        {(unknown || error instanceof NotAlong) && onNote && (
          <button type="button" className="btn" onClick={onNote}>
            Make a note of it, with a photo
          </button>
        )}
        {unknown && (
          <Link className="btn" to="/joints" search={{ q: tag }}>
            Look for it in the register
          </Link>
        )}
      </div>
    </section>
  );
}
