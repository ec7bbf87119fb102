import { PasswordInput, TextInput } from '@mantine/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, must, Refused, type WalkJoint } from '../../api/client';
import { useSession } from '../../api/session';
import { Nuts } from './Nuts';

interface Answer {
  yes: boolean | undefined;
  note: string;
}

/** One question a row, Yes or No; a No says what was seen. One PIN puts all of it behind the record. */
export function Check({ j, onBack, onDone }: { j: WalkJoint; onBack: () => void; onDone: (next: string) => void }) {
  const { person } = useSession();
  const qc = useQueryClient();
  const [given, setGiven] = useState<Record<string, Answer>>({});
  const [turned, setTurned] = useState<Record<number, number>>({});
  const [pin, setPIN] = useState('');
  const of = (code: string): Answer => given[code] ?? { yes: undefined, note: '' };
  const put = (code: string, part: Partial<Answer>) =>
    setGiven((old) => ({ ...old, [code]: { ...(old[code] ?? { yes: undefined, note: '' }), ...part } }));
  const present = j.questions.find((q) => of(q.code).yes === undefined)?.code;
  const bad = j.questions.some((q) => of(q.code).yes === false);
  const sign = useMutation({
    mutationFn: () =>
      must(
        api.POST('/walk/{tag}', {
          params: { path: { tag: j.tag } },
          body: {
            after: j.additions,
            pin,
            answers: j.questions.map((q) => ({
              code: q.code,
              yes: !!of(q.code).yes,
              note: of(q.code).note,
              ...(q.code === 'marks' && {
                nuts: j.drawn.map((d) => ({ fastener: d.fastener, deg: turned[d.fastener] ?? 0 })),
              }),
            })),
          },
        }),
      ),
    onSuccess: async (got) => {
      await qc.invalidateQueries({ queryKey: ['walk'] });
      onDone(got.next);
    },
    onError: () => setPIN(''),
  });
  const field = sign.error instanceof Refused ? sign.error.field : undefined;
  return (
    <form
      className="walk-check"
      onSubmit={(e) => {
        e.preventDefault();
        sign.mutate();
      }}
    >
      {j.questions.map((q) => (
        <fieldset key={q.code} className={q.code === present ? 'present' : ''}>
          <legend>{q.ask}</legend>
          {q.code === 'marks' && j.drawn.length > 0 && (
            <>
              <p className="dim">Turn each nut until it looks like the real one.</p>
              <Nuts
                drawn={j.drawn}
                turned={turned}
                onTurn={(fastener, deg) => {
                  const now = { ...turned, [fastener]: deg };
                  setTurned(now);
                  if (Object.values(now).some((v) => v !== 0)) put('marks', { yes: false });
                }}
              />
            </>
          )}
          <div className="yes-no">
            <button
              type="button"
              aria-pressed={of(q.code).yes === true}
              onClick={() => {
                put(q.code, { yes: true });
                if (q.code === 'marks') setTurned({});
              }}
            >
              Yes
            </button>
            <button type="button" aria-pressed={of(q.code).yes === false} onClick={() => put(q.code, { yes: false })}>
              No
            </button>
          </div>
          {of(q.code).yes === false && (
            <TextInput
              label={`What did you see? ${q.ask}`}
              placeholder="bolt 7, a quarter flat"
              value={of(q.code).note}
              onChange={(e) => put(q.code, { note: e.currentTarget.value })}
              error={field === `answers.${q.code}` ? sign.error?.message : undefined}
            />
          )}
        </fieldset>
      ))}
      {bad && (
        <p className="dim">
          The record stays as it was sealed. {j.tag} becomes due again, and whoever answers for it is told.
        </p>
      )}
      <PasswordInput
        label={`PIN of ${person?.name ?? ''}`}
        value={pin}
        onChange={(e) => setPIN(e.currentTarget.value)}
        inputMode="numeric"
        autoComplete="off"
      />
      {sign.error && !field?.startsWith('answers.') && (
        <p className="wrong" role="alert">
          {sign.error.message}
        </p>
      )}
      <div className="walk-acts">
        <button type="submit" className="btn now tall" disabled={!!present || !pin || sign.isPending}>
          Sign {j.tag}
        </button>
        <button type="button" className="btn tall" onClick={onBack}>
          Back
        </button>
      </div>
    </form>
  );
}
