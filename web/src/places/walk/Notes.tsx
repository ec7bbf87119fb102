import { TextInput } from '@mantine/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, must, type PlantNote } from '../../api/client';
import { useSession } from '../../api/session';
import { when } from '../../kit/numbers';

/** What was noted on walks and is at no joint of the register: open until somebody who leads says what became of it. */
export function Notes() {
  const list = useQuery({ queryKey: ['plant-notes'], queryFn: () => must(api.GET('/plant-notes')) });
  if (!list.data?.length) return null;
  return (
    <section className="walk-notes" aria-label="Noted on walks">
      <h2 className="rule">Noted on walks</h2>
      <ul>
        {list.data.map((n) => (
          <Note key={n.id} n={n} />
        ))}
      </ul>
    </section>
  );
}

function Note({ n }: { n: PlantNote }) {
  const { may } = useSession();
  const qc = useQueryClient();
  const [became, setBecame] = useState<string>();
  const close = useMutation({
    mutationFn: (words: string) =>
      must(api.PUT('/plant-notes/{id}', { params: { path: { id: n.id } }, body: { became: words } })),
    onSuccess: (list) => {
      qc.setQueryData(['plant-notes'], list);
      void qc.invalidateQueries({ queryKey: ['today'] });
      setBecame(undefined);
    },
  });
  return (
    <li className={n.closedAt ? 'closed' : ''}>
      {n.tag && <b className="m">{n.tag} </b>}
      {n.words}
      <small>
        {n.by}, seen {when(n.seenAt)}
        {n.photo && !n.pictured && '; its picture is still on the device'}
      </small>
      {n.pictured && (
        <a href={`/api/plant-notes/${n.id}/photo`} target="_blank" rel="noreferrer">
          <img src={`/api/plant-notes/${n.id}/photo`} alt={`With: ${n.words}`} loading="lazy" />
        </a>
      )}
      {n.closedAt && (
        <p>
          <b>{n.became}</b> {n.closedBy}, {when(n.closedAt)}
        </p>
      )}
      {may('closePlantNote') &&
        (n.closedAt ? (
          <button type="button" className="btn sm" disabled={close.isPending} onClick={() => close.mutate('')}>
            Open it again
          </button>
        ) : became === undefined ? (
          <button type="button" className="btn" onClick={() => setBecame('')}>
            What became of it
          </button>
        ) : (
          <form
            onSubmit={(e) => {
              e.preventDefault();
              close.mutate(became);
            }}
          >
            <TextInput
              label={`What became of it${n.tag ? `, ${n.tag}` : ''}`}
              placeholder="made a joint of it, SW-118"
              value={became}
              onChange={(e) => setBecame(e.currentTarget.value)}
              error={close.error?.message}
              maxLength={500}
              data-autofocus
            />
            <div className="row-btns">
              <button type="submit" className="btn" disabled={!became.trim() || close.isPending}>
                Close the note
              </button>
              <button type="button" className="btn" onClick={() => setBecame(undefined)}>
                Leave it open
              </button>
            </div>
          </form>
        ))}
    </li>
  );
}
