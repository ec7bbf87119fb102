import { Select, TextInput } from '@mantine/core';
import { useState } from 'react';
import type { Constraints, ConstraintsView } from '../../api/client';
import { wholeOf } from '../../kit/numbers';
import { SheetEnd } from '../../kit/SheetEnd';
import { useSheet } from '../../kit/sheet';
import { kindWord } from './words';

interface Props {
  v: ConstraintsView;
  may: boolean;
  onChange: (part: Partial<Constraints>) => Promise<unknown> | undefined;
}

/** Who is not there although it is their shift, for how many crews areas have room, and what was pinned by hand. */
export function AwayList({ v, may, onChange }: Props) {
  const c = v.constraints;
  const [wrong, setWrong] = useState('');
  const keep = (part: Partial<Constraints>) =>
    onChange(part)
      ?.then(() => {
        setWrong('');
        return true;
      })
      .catch((e) => {
        setWrong((e as Error).message);
        return false;
      }) ?? Promise.resolve(false);
  const name = (id: string) => v.people.find((p) => p.id === id)?.name ?? 'somebody who has left';
  return (
    <section>
      <h2 className="rule">Away</h2>
      {c.away.length === 0 && <p className="dim">Everybody is there in their shift.</p>}
      <ul className="held-list">
        {c.away.map((a) => (
          <li key={`${a.person}${a.from}`}>
            <span>
              <b>{name(a.person)}</b> {a.why}
              <small className="m">
                {a.from.replace('T', ' ')} to {a.to.replace('T', ' ')}
              </small>
            </span>
            {may && (
              <button
                type="button"
                className="btn sm"
                onClick={() => void keep({ away: c.away.filter((x) => x !== a) })}
              >
                {name(a.person)} is there after all
              </button>
            )}
          </li>
        ))}
      </ul>
      {may && <NewAway v={v} onAdd={(a) => keep({ away: [...c.away, a] })} />}
      <h2 className="rule">Room</h2>
      {[...new Set(v.joints.map((j) => j.area))].sort().map((area) => (
        <Room
          key={`${area} ${c.areas.find((a) => a.area === area)?.crews ?? 0}`}
          area={area}
          crews={c.areas.find((a) => a.area === area)?.crews}
          may={may}
          onCrews={(n) =>
            void keep({ areas: [...c.areas.filter((a) => a.area !== area), ...(n ? [{ area, crews: n }] : [])] })
          }
        />
      ))}
      <h2 className="rule">Pinned by hand</h2>
      {c.pins.length === 0 && <p className="dim">Nothing: the plan is free.</p>}
      <ul className="held-list">
        {c.pins.map((p) => (
          <li key={`${p.tag} ${p.kind}`}>
            <span>
              <b>
                {p.tag} {kindWord[p.kind]}
              </b>{' '}
              {p.person && `by ${name(p.person)} `}
              {p.start && `at ${p.start.replace('T', ' ')} `}
              {p.notBefore && `not before ${p.notBefore.replace('T', ' ')} `}
              <small>
                {p.by}
                {p.reason && `: ${p.reason}`}
              </small>
            </span>
            {may && (
              <button
                type="button"
                className="btn sm"
                onClick={() => void keep({ pins: c.pins.filter((x) => x !== p) })}
              >
                Take the pin out of {p.tag} {p.kind}
              </button>
            )}
          </li>
        ))}
      </ul>
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
    </section>
  );
}

function Room({
  area,
  crews,
  may,
  onCrews,
}: {
  area: string;
  crews: number | undefined;
  may: boolean;
  onCrews: (n: number | undefined) => void;
}) {
  const some = [...new Set([1, 2, 3, 4, 5, 6, 8, 10, ...(crews ? [crews] : [])])].sort((a, b) => a - b);
  return (
    <Select
      label={`Crews at once in ${area}`}
      value={crews ? String(crews) : ''}
      onChange={(n) => onCrews(n ? wholeOf(n) : undefined)}
      data={[
        { value: '', label: 'as many as there are' },
        ...some.map((n) => ({ value: String(n), label: String(n) })),
      ]}
      allowDeselect={false}
      disabled={!may}
    />
  );
}

interface AddProps {
  v: ConstraintsView;
  onAdd: (a: Constraints['away'][number]) => Promise<boolean>;
}

function NewAway({ v, onAdd }: AddProps) {
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <button type="button" className="btn" onClick={() => setOpen(true)}>
        Somebody is away
      </button>
    );
  return <AwayForm v={v} onAdd={onAdd} onBack={() => setOpen(false)} />;
}

function AwayForm({ v, onAdd, onBack }: AddProps & { onBack: () => void }) {
  const sheet = useSheet({ person: '', from: '', to: '', why: '' }, async (x) => {
    if (await onAdd(x)) onBack();
  });
  return (
    <form className="limit-form" onSubmit={sheet.submit}>
      <Select
        label="Who"
        {...sheet.field('person')}
        value={sheet.values.person || null}
        data={v.people.map((p) => ({ value: p.id, label: p.name }))}
      />
      <TextInput label="Away from" type="datetime-local" {...sheet.field('from')} />
      <TextInput label="until" type="datetime-local" {...sheet.field('to')} />
      <TextInput label="Why" {...sheet.field('why')} />
      <SheetEnd sheet={sheet} verb="Save" onBack={onBack} />
    </form>
  );
}
