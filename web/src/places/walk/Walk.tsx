import { TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { getRouteApi, Link } from '@tanstack/react-router';
import { useState } from 'react';
import { api, must, Refused } from '../../api/client';
import { useSession } from '../../api/session';
import { when } from '../../kit/numbers';
import { Glyph, glyphWords } from '../../rosette/Glyph';
import { openScan, useTaker } from '../../scan/takers';
import { Check } from './Check';
import './walk.css';

const route = getRouteApi('/walk');

export const walkRound = {
  queryKey: ['walk'],
  queryFn: () => must(api.GET('/walk')),
  refetchInterval: 60_000,
};

/** A walk-round: what a joint is, seen at once by its tag, and the nearest that waits for somebody's eyes. */
export function WalkPlace() {
  const { at, check } = route.useSearch();
  const navigate = route.useNavigate();
  const [typed, setTyped] = useState('');
  const round = useQuery(walkRound);
  const go = (tag: string | undefined) => void navigate({ search: tag ? { at: tag } : {} });
  useTaker((code) => {
    if (code.kind !== 'joint' && code.kind !== 'text') return false;
    go(code.kind === 'joint' ? code.tag : code.text.trim().toUpperCase());
    return true;
  });
  const stops = round.data?.stops ?? [];
  return (
    <div className="walk">
      <div className="walk-head">
        <h1>Walk-round</h1>
        <span>
          {round.data && `${stops.length} to see, ${round.data.seen} seen today`}
          {round.isError && 'no answer'}
        </span>
      </div>
      <form
        className="walk-tag"
        onSubmit={(e) => {
          e.preventDefault();
          if (typed.trim()) go(typed.trim().toUpperCase());
          setTyped('');
        }}
      >
        <button type="button" className="btn now" onClick={openScan}>
          Scan a tag
        </button>
        <TextInput
          aria-label="or type a tag"
          placeholder="or type a tag"
          value={typed}
          onChange={(e) => setTyped(e.currentTarget.value)}
          autoCapitalize="characters"
        />
        <button type="submit" className="btn">
          Show
        </button>
      </form>
      {round.isError && (
        <p className="wrong" role="alert">
          {(round.error as Error).message}
        </p>
      )}
      {at ? (
        <Joint
          key={at}
          tag={at}
          checking={!!check}
          onCheck={(on) => void navigate({ search: on ? { at, check: true } : { at } })}
          onGo={go}
        />
      ) : (
        <p className="dim">Scan the tag at a joint, or begin with the first one below.</p>
      )}
      <h2 className="rule">To see, along the plant</h2>
      {round.isSuccess && stops.length === 0 && <p className="empty">Nothing waits for anybody's eyes.</p>}
      <ol className="walk-stops">
        {stops.map((s, i) => (
          <li key={s.tag}>
            {s.area !== stops[i - 1]?.area && <h3>{s.area}</h3>}
            <Link to="/walk" search={{ at: s.tag }} aria-current={s.tag === at || undefined}>
              <Glyph family={s.family} count={s.bolts} state={s.glyph} size={36} />
              <span>
                <b className="m">{s.tag}</b> {s.name}
                <small>{s.why.join('; ')}</small>
              </span>
            </Link>
          </li>
        ))}
      </ol>
    </div>
  );
}

const edges: Record<string, string> = {
  accepted: 'ok',
  stopped: 'striped',
  turned_down: 'hatched',
  due_again: 'striped',
};

function Joint({
  tag,
  checking,
  onCheck,
  onGo,
}: {
  tag: string;
  checking: boolean;
  onCheck: (on: boolean) => void;
  onGo: (tag: string | undefined) => void;
}) {
  const { may } = useSession();
  const q = useQuery({
    queryKey: ['walk', tag],
    queryFn: () => must(api.GET('/walk/{tag}', { params: { path: { tag } } })),
  });
  const round = useQuery(walkRound);
  if (q.isError) {
    const unknown = q.error instanceof Refused && q.error.problem.status === 404;
    const near = round.data?.stops.find((s) => s.tag.slice(0, 3) === tag.slice(0, 3));
    return (
      <section className="walk-joint" role="alert">
        <h2 className="word">{unknown ? `No joint ${tag} here.` : q.error.message}</h2>
        {unknown && near && (
          <button type="button" className="btn" onClick={() => onGo(near.tag)}>
            {near.tag}?
          </button>
        )}
        {unknown && (
          <Link className="btn" to="/joints" search={{ q: tag }}>
            Look for it in the register
          </Link>
        )}
      </section>
    );
  }
  const j = q.data;
  if (!j) return <p className="dim">Looking.</p>;
  const word = glyphWords[j.glyph] ?? j.glyph;
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
          <p>
            {j.sealedAt
              ? `${when(j.sealedAt)}, sealed, ${j.holds ? 'record holds' : 'record does not hold'}.`
              : j.summary || 'No record yet.'}
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
      {j.why.length > 0 && <p className="why">{j.why.join('; ')}</p>}
      <dl>
        {rows.map(([k, v]) => (
          <div key={k}>
            <dt>{k}</dt>
            <dd>{v}</dd>
          </div>
        ))}
      </dl>
      {checking && j.record ? (
        <Check j={j} onBack={() => onCheck(false)} onDone={(next) => onGo(next || undefined)} />
      ) : (
        <div className="walk-acts">
          {j.record && j.glyph !== 'in_hand' && may('putWalk') ? (
            <button type="button" className="btn now tall" onClick={() => onCheck(true)}>
              Check {j.tag}
            </button>
          ) : (
            <Link className="btn now tall" to="/joints/$tag" params={{ tag: j.tag }}>
              Open {j.tag}
            </Link>
          )}
          <button type="button" className="btn tall" disabled={!j.next} onClick={() => onGo(j.next)}>
            {j.next ? `Pass by, to ${j.next}` : 'No other waits'}
          </button>
        </div>
      )}
    </section>
  );
}
