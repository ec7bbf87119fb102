import { MultiSelect, Select, TextInput } from '@mantine/core';
import { useState } from 'react';
import type { Constraints, ConstraintsView, JointConstraint } from '../../api/client';
import { wholeOf } from '../../kit/numbers';
import { SheetEnd } from '../../kit/SheetEnd';
import { useSheet } from '../../kit/sheet';

interface Props {
  v: ConstraintsView;
  may: boolean;
  at: string | undefined;
  onAt: (tag: string | undefined) => void;
  onChange: (part: Partial<Constraints>) => Promise<unknown> | undefined;
}

const weights = [1, 2, 3, 5, 10, 20, 50, 100];
const waits = [0, 15, 30, 60, 120, 240, 480, 720, 1440, 2880, 4320, 10080];
const span = (minutes: number) =>
  minutes < 60 ? `${minutes} min` : minutes < 1440 ? `${minutes / 60} h` : `${minutes / 1440} d`;
const local = (clock: string) => clock.replace('T', ' ');

/** The joints with what holds for each; a pressed one is changed below its line. */
export function JointLimits({ v, may, at, onAt, onChange }: Props) {
  const [find, setFind] = useState('');
  const of = (tag: string): JointConstraint =>
    v.constraints.joints.find((j) => j.tag === tag) ?? {
      tag,
      notBefore: '',
      due: '',
      weight: 1,
      isolation: '',
      after: [],
      access: '',
      wait: 0,
      waitWhy: '',
      skills: [],
    };
  const words = find.toLowerCase().split(/\s+/).filter(Boolean);
  const list = v.joints.filter((j) => words.every((w) => `${j.tag} ${j.name} ${j.area}`.toLowerCase().includes(w)));
  return (
    <section>
      <div className="row-btns">
        <h2 className="rule">Joints</h2>
        <TextInput
          aria-label="Find a joint"
          placeholder="Find a joint"
          value={find}
          onChange={(e) => setFind(e.currentTarget.value)}
        />
      </div>
      {v.joints.length === 0 && (
        <p className="empty">No joint has this work package. Give it one in the register, or take a list in.</p>
      )}
      <div className="scroll-x">
        <table className="t limits">
          <thead>
            <tr>
              <th>Tag</th>
              <th>Name</th>
              <th>Not before</th>
              <th>Due</th>
              <th className="n">Weight</th>
              <th>Isolation</th>
              <th>After</th>
              <th className="n">Wait</th>
              <th>Skills</th>
              <th>To get there</th>
            </tr>
          </thead>
          <tbody>
            {list.map((j) => {
              const c = of(j.tag);
              return (
                <Row
                  key={j.tag}
                  name={j.name}
                  c={c}
                  v={v}
                  open={may && at === j.tag}
                  may={may}
                  onOpen={() => onAt(at === j.tag ? undefined : j.tag)}
                  onSave={async (next) => {
                    await onChange({ joints: [...v.constraints.joints.filter((x) => x.tag !== j.tag), next] });
                    onAt(undefined);
                  }}
                />
              );
            })}
          </tbody>
        </table>
      </div>
    </section>
  );
}

function Row({
  name,
  c,
  v,
  open,
  may,
  onOpen,
  onSave,
}: {
  name: string;
  c: JointConstraint;
  v: ConstraintsView;
  open: boolean;
  may: boolean;
  onOpen: () => void;
  onSave: (c: JointConstraint) => Promise<void>;
}) {
  return (
    <>
      <tr className={open ? 'open' : ''}>
        <td className="m">
          {may ? (
            <button type="button" className="btn plain" aria-expanded={open} onClick={onOpen}>
              {c.tag}
            </button>
          ) : (
            c.tag
          )}
        </td>
        <td>
          {name}
          <small className="in-short">
            {[
              c.notBefore && `not before ${local(c.notBefore)}`,
              c.due && `due ${local(c.due)}`,
              c.isolation && `isolation ${c.isolation}`,
              c.after.length > 0 && `after ${c.after.join(', ')}`,
              c.wait > 0 && `${c.waitWhy || 'waits'} ${c.wait} min before its proof`,
              c.skills.length > 0 && `asks for ${c.skills.join(', ')}`,
              c.access,
            ]
              .filter(Boolean)
              .join('; ')}
          </small>
        </td>
        <td className="m">{local(c.notBefore)}</td>
        <td className="m">{local(c.due)}</td>
        <td className="n">{c.weight === 1 ? '' : c.weight}</td>
        <td>{c.isolation}</td>
        <td className="m">{c.after.join(', ')}</td>
        <td className="n">{c.wait > 0 && `${c.wait} min`}</td>
        <td>{c.skills.join(', ')}</td>
        <td>{c.access}</td>
      </tr>
      {open && (
        <tr className="open">
          <td colSpan={10}>
            <Form key={c.tag} c={c} v={v} onSave={onSave} onBack={onOpen} />
          </td>
        </tr>
      )}
    </>
  );
}

function Form({
  c,
  v,
  onSave,
  onBack,
}: {
  c: JointConstraint;
  v: ConstraintsView;
  onSave: (c: JointConstraint) => Promise<void>;
  onBack: () => void;
}) {
  const sheet = useSheet({ ...c }, onSave);
  const x = sheet.values;
  return (
    <form className="limit-form" onSubmit={sheet.submit}>
      <TextInput label="Not before" type="datetime-local" {...sheet.field('notBefore')} />
      <TextInput label="Due" type="datetime-local" {...sheet.field('due')} />
      <Select
        label="A minute late weighs"
        value={String(x.weight)}
        onChange={(w) => w && sheet.put({ weight: wholeOf(w) })}
        data={[...new Set([...weights, c.weight])]
          .sort((a, b) => a - b)
          .map((w) => ({ value: String(w), label: w === 1 ? 'as much as usual' : `${w} times as much` }))}
        allowDeselect={false}
      />
      <Select
        label="Isolation"
        value={x.isolation}
        onChange={(i) => sheet.put({ isolation: i ?? '' })}
        data={[
          { value: '', label: 'none' },
          ...v.constraints.isolations.map((i) => ({ value: i.code, label: `${i.code} ${i.name}` })),
        ]}
      />
      <MultiSelect
        label="After these joints"
        {...sheet.field('after')}
        data={v.joints.filter((j) => j.tag !== c.tag).map((j) => ({ value: j.tag, label: `${j.tag} ${j.name}` }))}
        searchable
      />
      <Select
        label="Wait before the proof"
        value={String(x.wait)}
        onChange={(w) => w && sheet.put({ wait: wholeOf(w) })}
        data={[...new Set([...waits, c.wait])]
          .sort((a, b) => a - b)
          .map((w) => ({ value: String(w), label: w === 0 ? 'none' : span(w) }))}
        allowDeselect={false}
      />
      {x.wait > 0 && (
        <TextInput label="What it waits for" placeholder="gasket relaxes, grout cures" {...sheet.field('waitWhy')} />
      )}
      <MultiSelect
        label="Skills that everybody at it has"
        description={v.skills.length === 0 ? 'None is written down for anybody yet; see Site, People.' : undefined}
        {...sheet.field('skills')}
        data={[...new Set([...v.skills, ...c.skills])]}
        disabled={v.skills.length === 0 && c.skills.length === 0}
        searchable
      />
      <TextInput label="To get there" placeholder="ladder, permit, who opens the door" {...sheet.field('access')} />
      <SheetEnd sheet={sheet} verb={`Save ${c.tag}`} onBack={onBack} />
    </form>
  );
}
