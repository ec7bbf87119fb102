import { TextInput } from '@mantine/core';
import { useState } from 'react';
import type { WalkAnswer, WalkJoint } from '../../api/client';
import type { KeptLook } from '../../api/kept';
import { looks } from '../../api/looks';
import { useSession } from '../../api/session';
import { walked } from '../../core/core';
import { PhotoField } from '../../kit/PhotoField';
import { Nuts } from './Nuts';
import { SignPart } from './SignPart';
import { NotTaken, useSign } from './useSign';

interface Answer {
  yes: boolean | undefined;
  note: string;
}

/**
 * One question a row, Yes or No; a No says what was seen. One PIN puts all of it behind the record. Away from the network the look is kept on the
 * device instead, to be signed with the others of the walk.
 */
export function Check({
  j,
  look,
  away,
  onBack,
  onDone,
}: {
  j: WalkJoint;
  look: KeptLook | undefined; // kept before, to be corrected
  away: boolean;
  onBack: () => void;
  onDone: (next: string | undefined) => void; // undefined: as this device knows it
}) {
  const { person } = useSession();
  const [given, setGiven] = useState<Record<string, Answer>>(() =>
    Object.fromEntries((look?.answers ?? []).map((a) => [a.code, { yes: a.yes, note: a.note }])),
  );
  const [turned, setTurned] = useState<Record<number, number>>(() =>
    Object.fromEntries((look?.answers.find((a) => a.code === 'marks')?.nuts ?? []).map((n) => [n.fastener, n.deg])),
  );
  const [picture, setPicture] = useState(look?.picture);
  const unsigned = away || !!look;
  const { pin, setPIN, sign, field } = useSign(unsigned, onDone);
  const of = (code: string): Answer => given[code] ?? { yes: undefined, note: '' };
  const put = (code: string, part: Partial<Answer>) =>
    setGiven((old) => ({ ...old, [code]: { ...(old[code] ?? { yes: undefined, note: '' }), ...part } }));
  const present = j.questions.find((q) => of(q.code).yes === undefined)?.code;
  const bad = j.questions.some((q) => of(q.code).yes === false);
  const answers = (): WalkAnswer[] =>
    j.questions.map((q) => ({
      code: q.code,
      yes: !!of(q.code).yes,
      note: of(q.code).note,
      ...(q.code === 'marks' && {
        nuts: j.drawn.map((d) => ({ fastener: d.fastener, deg: turned[d.fastener] ?? 0 })),
      }),
    }));
  // What is refused is refused here already, by the same rules: away from the network nobody else would say it.
  const take = () => {
    if (!person) throw new NotTaken('Nobody is signed in. Sign in, then look.', '');
    const said = walked(answers(), j.drawn);
    if (said?.refused) throw new NotTaken(`This ${said.refused}`, said.field);
    return looks.look(
      person,
      { tag: j.tag, record: j.record, run: j.run, after: j.additions },
      { answers: answers(), says: said?.what ?? '', picture },
      look,
    );
  };
  return (
    <form
      className="walk-check"
      onSubmit={(e) => {
        e.preventDefault();
        sign.mutate(take);
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
      <PhotoField photo={picture} onPhoto={setPicture} />
      {bad && (
        <p className="dim">
          The record stays as it was sealed. {j.tag} becomes due again, and whoever answers for it is told
          {unsigned ? ', once you have signed' : ''}.
        </p>
      )}
      <SignPart
        what={j.tag}
        unsigned={unsigned}
        away={away}
        pin={pin}
        onPIN={setPIN}
        error={field?.startsWith('answers.') ? undefined : sign.error?.message}
        ready={!present && !sign.isPending}
        onBack={onBack}
      />
    </form>
  );
}
