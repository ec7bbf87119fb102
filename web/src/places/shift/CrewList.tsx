import { MultiSelect, TextInput } from '@mantine/core';
import { useState } from 'react';
import type { Constraints, ConstraintsView } from '../../api/client';
import { SheetEnd } from '../../kit/SheetEnd';
import { useSheet } from '../../kit/sheet';

type Crew = Constraints['crews'][number];

interface Props {
  v: ConstraintsView;
  may: boolean;
  onChange: (part: Partial<Constraints>) => Promise<unknown> | undefined;
}

const fresh = (): Crew => ({ name: '', shift: { from: '', to: '', breakFrom: '', breakTo: '' }, people: [] });
const times = [
  ['from', 'Works from'],
  ['to', 'to'],
  ['breakFrom', 'break from'],
  ['breakTo', 'until'],
] as const;

/** Who works in a shift of their own; everybody else works in the one that is planned. */
export function CrewList({ v, may, onChange }: Props) {
  const [edit, setEdit] = useState<{ old: string; x: Crew }>();
  const [wrong, setWrong] = useState('');
  const list = v.constraints.crews;
  const name = (id: string) => v.people.find((p) => p.id === id)?.name ?? 'somebody who has left';
  const keep = (crews: Crew[]) =>
    onChange({ crews })
      ?.then(() => {
        setEdit(undefined);
        setWrong('');
      })
      .catch((e) => setWrong((e as Error).message));
  const taken = new Set(list.filter((c) => c.name !== edit?.old).flatMap((c) => c.people));
  return (
    <section>
      <h2 className="rule">Crews with a shift of their own</h2>
      <p className="dim">Everybody else works in the shift that is planned.</p>
      <ul className="held-list">
        {list.map((c) => (
          <li key={c.name}>
            <span>
              <b>{c.name}</b> {c.people.map(name).join(', ')}
              <small className="m">
                {c.shift.from} to {c.shift.to}
                {c.shift.breakFrom && `, break ${c.shift.breakFrom} to ${c.shift.breakTo}`}
              </small>
            </span>
            {may && (
              <span className="row-btns">
                <button type="button" className="btn sm" onClick={() => setEdit({ old: c.name, x: c })}>
                  Change {c.name}
                </button>
                <button type="button" className="btn sm" onClick={() => void keep(list.filter((o) => o !== c))}>
                  Take out {c.name}
                </button>
              </span>
            )}
          </li>
        ))}
      </ul>
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
      {may && !edit && (
        <button type="button" className="btn" onClick={() => setEdit({ old: '', x: fresh() })}>
          New crew
        </button>
      )}
      {edit && (
        <CrewForm
          key={edit.old}
          crew={edit.x}
          people={v.people.filter((p) => !taken.has(p.id)).map((p) => ({ value: p.id, label: p.name }))}
          onKeep={(x) => keep(edit.old ? list.map((c) => (c.name === edit.old ? x : c)) : [...list, x])}
          onBack={() => setEdit(undefined)}
        />
      )}
    </section>
  );
}

function CrewForm({
  crew,
  people,
  onKeep,
  onBack,
}: {
  crew: Crew;
  people: { value: string; label: string }[];
  onKeep: (x: Crew) => unknown;
  onBack: () => void;
}) {
  const sheet = useSheet({ name: crew.name, people: crew.people, ...crew.shift }, ({ name, people, ...shift }) =>
    onKeep({ name, people, shift }),
  );
  return (
    <form className="limit-form" onSubmit={sheet.submit}>
      <TextInput label="Name of the crew" placeholder="late, night" {...sheet.field('name')} />
      <div className="span">
        {times.map(([k, label]) => (
          <TextInput key={k} label={label} type="time" {...sheet.field(k)} />
        ))}
      </div>
      <MultiSelect label="Who works in it" {...sheet.field('people')} data={people} searchable />
      <SheetEnd sheet={sheet} verb="Save the crew" onBack={onBack} />
    </form>
  );
}
