import { TextInput } from '@mantine/core';
import { useState } from 'react';
import type { Constraints, ConstraintsView } from '../../api/client';
import { SheetEnd } from '../../kit/SheetEnd';
import { useSheet } from '../../kit/sheet';

type Isolation = Constraints['isolations'][number];

interface Props {
  v: ConstraintsView;
  may: boolean;
  onChange: (part: Partial<Constraints>) => Promise<unknown> | undefined;
}

const fresh = (): Isolation => ({ code: '', name: '', windows: [{ from: '', to: '' }] });

/** What is shut off, and when; a joint under an isolation is opened and closed within one of its windows. */
export function IsolationList({ v, may, onChange }: Props) {
  const [edit, setEdit] = useState<{ old: string; x: Isolation }>();
  const [wrong, setWrong] = useState('');
  const list = v.constraints.isolations;
  const keep = (next: Isolation[], joints = v.constraints.joints) =>
    onChange({ isolations: next, joints })
      ?.then(() => {
        setEdit(undefined);
        setWrong('');
      })
      .catch((e) => setWrong((e as Error).message));
  const drop = (code: string) =>
    keep(
      list.filter((i) => i.code !== code),
      v.constraints.joints.map((j) => (j.isolation === code ? { ...j, isolation: '' } : j)),
    );
  return (
    <section>
      <h2 className="rule">Isolations</h2>
      <p className="dim">
        A joint is opened and closed under it. The permit and the locks are the site's own: this only plans.
      </p>
      {list.length === 0 && !edit && <p className="empty">None yet.</p>}
      <ul className="held-list">
        {list.map((i) => (
          <li key={i.code}>
            <span>
              <b>{i.code}</b> {i.name}
              {i.windows.map((w) => (
                <small key={w.from} className="m">
                  {w.from.replace('T', ' ')} to {w.to.replace('T', ' ')}
                </small>
              ))}
            </span>
            {may && (
              <span className="row-btns">
                <button type="button" className="btn sm" onClick={() => setEdit({ old: i.code, x: i })}>
                  Change {i.code}
                </button>
                <button type="button" className="btn sm" onClick={() => void drop(i.code)}>
                  Take out {i.code}
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
          New isolation
        </button>
      )}
      {edit && (
        <IsolationForm
          key={edit.old}
          isolation={edit.x}
          onKeep={(x) =>
            keep(
              edit.old ? list.map((i) => (i.code === edit.old ? x : i)) : [...list, x],
              v.constraints.joints.map((j) => (edit.old && j.isolation === edit.old ? { ...j, isolation: x.code } : j)),
            )
          }
          onBack={() => setEdit(undefined)}
        />
      )}
    </section>
  );
}

function IsolationForm({
  isolation,
  onKeep,
  onBack,
}: {
  isolation: Isolation;
  onKeep: (x: Isolation) => unknown;
  onBack: () => void;
}) {
  const sheet = useSheet({ ...isolation }, onKeep);
  const { windows } = sheet.values;
  return (
    <form className="limit-form" onSubmit={sheet.submit}>
      <TextInput label="Short name" {...sheet.field('code')} />
      <TextInput label="What is shut off" {...sheet.field('name')} />
      {windows.map((w, n) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: windows have no name but their place
        <div key={n} className="span">
          {(['from', 'to'] as const).map((k) => (
            <TextInput
              key={k}
              label={k === 'from' ? `Shut off from${n ? `, ${n + 1}` : ''}` : `to${n ? `, ${n + 1}` : ''}`}
              type="datetime-local"
              value={w[k]}
              onChange={(e) => {
                const at = e.currentTarget.value;
                sheet.put({ windows: windows.map((o, m) => (m === n ? { ...o, [k]: at } : o)) });
              }}
            />
          ))}
        </div>
      ))}
      <SheetEnd sheet={sheet} verb="Save the isolation" onBack={onBack}>
        <button
          type="button"
          className="btn"
          onClick={() => sheet.put({ windows: [...windows, { from: '', to: '' }] })}
        >
          Another window
        </button>
      </SheetEnd>
    </form>
  );
}
