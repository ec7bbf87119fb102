import { TextInput } from '@mantine/core';
import { getRouteApi, Link } from '@tanstack/react-router';
import { useState } from 'react';
import { useSession } from '../../api/session';
import { when } from '../../kit/numbers';
import { Glyph } from '../../rosette/Glyph';
import { openScan, useTaker } from '../../scan/takers';
import { JointState } from './JointState';
import { NoteForm } from './NoteForm';
import { Notes } from './Notes';
import { Unsigned } from './Unsigned';
import { useTakenAlong, useUnsigned, useWalkRound } from './useWalk';
import './walk.css';

const route = getRouteApi('/walk');

/** A walk-round: what a joint is, seen at once by its tag, and the nearest that waits for somebody's eyes. */
export function WalkPlace() {
  const { at, check, note } = route.useSearch();
  const { may } = useSession();
  const navigate = route.useNavigate();
  const [typed, setTyped] = useState('');
  const round = useWalkRound();
  const along = useTakenAlong();
  const unsigned = useUnsigned();
  const go = (tag: string | undefined) => void navigate({ search: tag ? { at: tag } : {} });
  useTaker((code) => {
    if (code.kind !== 'joint' && code.kind !== 'text') return false;
    go(code.kind === 'joint' ? code.tag : code.text.trim().toUpperCase());
    return true;
  });
  const looked = new Set(unsigned.own.filter((l) => !l.note).map((l) => l.tag));
  const stops = (round.data?.round.stops ?? []).filter((s) => !looked.has(s.tag));
  const asOf = round.data?.asOf;
  return (
    <div className="walk">
      <div className="walk-head">
        <h1>Walk-round</h1>
        <span>
          {round.data && `${stops.length} to see, ${round.data.round.seen} seen today`}
          {round.isError && 'no answer'}
        </span>
      </div>
      {asOf && (
        <p className="walk-asof" role="status">
          No signal: as of {when(asOf)}.
        </p>
      )}
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
      {note !== undefined ? (
        <NoteForm
          key={note}
          tag={at ?? ''}
          note={unsigned.own.find((l) => l.id === note)}
          away={!!asOf}
          onBack={() => go(at)}
          onDone={() => go(undefined)}
        />
      ) : at ? (
        <JointState
          key={at}
          tag={at}
          checking={!!check}
          onCheck={(on) => void navigate({ search: on ? { at, check: true } : { at } })}
          onNote={() => void navigate({ search: { at, note: 'new' } })}
          onGo={go}
        />
      ) : (
        <p className="dim">Scan the tag at a joint, or begin with the first one below.</p>
      )}
      <Unsigned
        signal={!!round.data && !asOf}
        onCorrect={(l) => void navigate({ search: l.note ? { note: l.id } : { at: l.tag, check: true } })}
      />
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
      {note === undefined && may('putWalk') && (
        <button type="button" className="btn walk-else" onClick={() => void navigate({ search: { note: 'new' } })}>
          Make a note of something else
        </button>
      )}
      {!asOf && <Notes />}
      {along.data && !asOf && (
        <p className="dim">
          Taken along at {when(along.data.round.now)} for places without signal: {along.data.joints.length} joints.
        </p>
      )}
    </div>
  );
}
