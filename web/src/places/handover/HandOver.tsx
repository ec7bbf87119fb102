import { Textarea } from '@mantine/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, type HandoverView, must } from '../../api/client';
import { useSession } from '../../api/session';
import { NameAndPIN } from '../../app/signin';
import { when } from '../../kit/numbers';
import { NoteBody } from './NoteBody';
import './handover.css';

/** The note of a shift: written by the program, added to by a person, read and signed by whoever goes on. */
export function HandOverPlace() {
  const { may } = useSession();
  const qc = useQueryClient();
  const [writing, setWriting] = useState(false);
  const q = useQuery({ queryKey: ['handovers'], queryFn: () => must(api.GET('/handovers')) });
  const list = q.data ?? [];
  const waits = list.find((n) => !n.takenAt);
  const done = list.filter((n) => n !== waits);
  const look = () => qc.invalidateQueries({ queryKey: ['handovers'] });
  return (
    <div className="page hand-over">
      <div className="row-btns">
        <h1 className="title">Hand-over of the shift</h1>
        <span className="sp" />
        <button type="button" className="btn sm" onClick={() => print()}>
          Print
        </button>
        {may('writeHandover') && !writing && (
          <button type="button" className={`btn${waits ? '' : ' now'}`} onClick={() => setWriting(true)}>
            Write the note of this shift
          </button>
        )}
      </div>
      {q.isError && (
        <p className="wrong" role="alert">
          {(q.error as Error).message}
        </p>
      )}
      {writing && (
        <Draft
          onDone={() => {
            setWriting(false);
            void look();
          }}
          onBack={() => setWriting(false)}
        />
      )}
      {!writing && waits && <Take key={waits.id} v={waits} onDone={look} />}
      {!writing && q.isSuccess && list.length === 0 && (
        <p className="empty">No shift has handed over yet. The note writes itself: add what only you know.</p>
      )}
      {done.length > 0 && (
        <section className="earlier">
          <h2 className="rule">Earlier notes</h2>
          {done.map((n) => (
            <details key={n.id}>
              <summary>
                {when(n.note.to)}, written by {n.by},{' '}
                {n.takenBy ? `taken over by ${n.takenBy} at ${when(n.takenAt)}` : 'nobody has taken it over'}
              </summary>
              <NoteBody v={n} />
            </details>
          ))}
        </section>
      )}
    </div>
  );
}

/** The note as the program has it now, with room for what only a person knows. */
function Draft({ onDone, onBack }: { onDone: () => void; onBack: () => void }) {
  const [words, setWords] = useState('');
  const q = useQuery({ queryKey: ['handover draft'], queryFn: () => must(api.GET('/handovers/draft')) });
  const write = useMutation({
    mutationFn: () => must(api.POST('/handovers', { body: { words } })),
    onSuccess: onDone,
  });
  const wrong = q.error ?? write.error;
  return (
    <section>
      {q.data && <NoteBody v={q.data} />}
      {!q.data && !wrong && <p className="empty">Reading what happened.</p>}
      <Textarea
        label="What only you know"
        placeholder="what was promised, what sounds odd, who comes when"
        value={words}
        onChange={(e) => setWords(e.currentTarget.value)}
        autosize
        minRows={3}
        maxLength={4000}
      />
      {wrong && (
        <p className="wrong" role="alert">
          {(wrong as Error).message}
        </p>
      )}
      <div className="row-btns acts">
        <button type="button" className="btn now" disabled={!q.data || write.isPending} onClick={() => write.mutate()}>
          Hand the shift over
        </button>
        <button type="button" className="btn" onClick={onBack}>
          Not yet
        </button>
      </div>
    </section>
  );
}

/** Whoever goes on reads it, looks at each open run, and signs. */
function Take({ v, onDone }: { v: HandoverView; onDone: () => void }) {
  const [seen, setSeen] = useState<string[]>([]);
  const left = v.note.open.filter((o) => !seen.includes(o.runId));
  return (
    <section>
      <h2 className="big">
        {v.by} hands over since {when(v.note.to)}
      </h2>
      <NoteBody
        v={v}
        seen={seen}
        onSeen={(id) => setSeen((old) => (old.includes(id) ? old.filter((x) => x !== id) : [...old, id]))}
      />
      <h2 className="rule">Take it over</h2>
      <p className={left.length > 0 ? '' : 'dim'} role="status">
        {left.length > 0
          ? `Look at bolt, setting and condition at the joint first, and say that it is so: ${left.map((o) => o.tag).join(', ')}.`
          : 'Read, and found as it is told.'}
      </p>
      <NameAndPIN
        verb="I take it over"
        only={(people) => people.filter((p) => p.id !== v.byId)}
        act={async (who, pin) => {
          await must(
            api.POST('/handovers/{id}/take', {
              params: { path: { id: v.id } },
              body: { personId: who.id, pin, confirmed: seen },
            }),
          );
        }}
        onDone={onDone}
      />
    </section>
  );
}
