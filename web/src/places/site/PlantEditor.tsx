import { Select, TextInput } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, must, Refused, type Site, useSite } from '../../api/client';
import { Drawing, drawings, PlantLine } from '../../kit/PlantLine';

type Row = Site['areas'][number] & { id: number };

const rowsOf = (s: Site): Row[] => s.areas.map((a, i) => ({ ...a, was: a.name, id: i }));

/** What the site is called, and its plant line: areas in their order, each with a drawing or none. */
export function PlantEditor() {
  const site = useSite();
  if (!site.data) return <p className="empty">{site.isError ? (site.error as Error).message : 'One moment.'}</p>;
  return <Editor was={site.data} />;
}

function Editor({ was }: { was: Site }) {
  const qc = useQueryClient();
  const [v, setV] = useState(was);
  const [areas, setAreas] = useState<Row[]>(() => rowsOf(was));
  const [chosen, setChosen] = useState(0);
  const [wrong, setWrong] = useState<{ field: string; text: string }>();
  const [kept, setKept] = useState(false);
  const set = (c: Partial<Site>) => {
    setV({ ...v, ...c });
    setKept(false);
  };
  const put = (next: Row[]) => {
    setAreas(next);
    setKept(false);
  };
  const edit = (i: number, c: Partial<Row>) => put(areas.map((a, k) => (k === i ? { ...a, ...c } : a)));
  const move = (i: number, by: number) => {
    const to = i + by;
    const a = areas[i];
    if (!a || to < 0 || to >= areas.length) return;
    const next = areas.filter((_, k) => k !== i);
    next.splice(to, 0, a);
    put(next);
    setChosen(to);
  };
  const err = (field: string) => (wrong?.field === field ? wrong.text : undefined);
  const a = areas[chosen];
  const save = () =>
    must(api.PUT('/site', { body: { ...v, areas: areas.map(({ id: _, ...r }) => r) } })).then(
      (next) => {
        setWrong(undefined);
        setKept(true);
        setV(next);
        setAreas(rowsOf(next));
        qc.setQueryData(['site'], next);
        void qc.invalidateQueries({ queryKey: ['today'] });
        void qc.invalidateQueries({ queryKey: ['session'] });
      },
      (e: Error) => setWrong({ field: e instanceof Refused ? (e.field ?? '') : '', text: e.message }),
    );
  return (
    <div className="plant-editor">
      <section>
        <div className="rule">The plant{v.line ? `, ${v.line}` : ''}</div>
        {areas.length === 0 && <p className="empty">No areas yet. Add the first one below.</p>}
        <div className="scroll">
          <PlantLine areas={areas} at={a?.name} />
        </div>
        <ol className="areas">
          {areas.map((r, i) => (
            <li key={r.id} className={i === chosen ? 'cur' : ''}>
              <button type="button" className="btn plain" onClick={() => setChosen(i)} aria-pressed={i === chosen}>
                {r.name || 'no name'}
                <small className="dim">
                  {r.joints} {r.joints === 1 ? 'joint' : 'joints'}
                  {r.drawing ? `, ${drawings[r.drawing]?.word}` : ', not drawn'}
                </small>
              </button>
              <button type="button" className="btn sm" aria-label={`${r.name} earlier`} onClick={() => move(i, -1)}>
                ←
              </button>
              <button type="button" className="btn sm" aria-label={`${r.name} later`} onClick={() => move(i, 1)}>
                →
              </button>
              {r.joints === 0 && (
                <button
                  type="button"
                  className="btn sm"
                  aria-label={`Leave ${r.name} out`}
                  onClick={() => put(areas.filter((_, k) => k !== i))}
                >
                  leave out
                </button>
              )}
            </li>
          ))}
        </ol>
        <button
          type="button"
          className="btn"
          onClick={() => {
            put([...areas, { id: Date.now(), name: '', drawing: '', joints: 0 }]);
            setChosen(areas.length);
          }}
        >
          Add an area
        </button>
        {a && (
          <div className="area">
            <TextInput
              label={a.joints ? 'Name of the area; its joints go with it' : 'Name of the area'}
              value={a.name}
              onChange={(e) => edit(chosen, { name: e.currentTarget.value })}
              error={err(`areas[${chosen}].name`)}
            />
            <fieldset className="draws" aria-label="Drawing">
              <button
                type="button"
                className={`btn draw${a.drawing === '' ? ' on' : ''}`}
                aria-pressed={a.drawing === ''}
                onClick={() => edit(chosen, { drawing: '' })}
              >
                none
              </button>
              {Object.entries(drawings).map(([code, d]) => (
                <button
                  key={code}
                  type="button"
                  className={`btn draw${a.drawing === code ? ' on' : ''}`}
                  aria-pressed={a.drawing === code}
                  onClick={() => edit(chosen, { drawing: code })}
                >
                  <Drawing name={code} />
                  {d.word}
                </button>
              ))}
            </fieldset>
          </div>
        )}
      </section>
      <section className="names">
        <div className="rule">The site</div>
        <TextInput
          label="Name"
          value={v.name}
          onChange={(e) => set({ name: e.currentTarget.value })}
          error={err('name')}
        />
        <TextInput
          label="Record numbers begin with"
          value={v.prefix}
          onChange={(e) => set({ prefix: e.currentTarget.value.toUpperCase() })}
          error={err('prefix')}
        />
        <Select
          label="Time zone"
          data={[...new Set([v.timeZone, 'UTC', ...Intl.supportedValuesOf('timeZone')])].filter(Boolean)}
          value={v.timeZone || null}
          onChange={(z) => z && set({ timeZone: z })}
          error={err('timeZone')}
          searchable
        />
        <TextInput
          label="Where Dynacor is found, for the codes on tags"
          placeholder={location.origin}
          value={v.address}
          onChange={(e) => set({ address: e.currentTarget.value })}
          error={err('address')}
        />
        <TextInput
          label="How the plant line reads"
          placeholder="sea to land"
          value={v.line}
          onChange={(e) => set({ line: e.currentTarget.value })}
          error={err('line')}
        />
        {wrong && !['name', 'prefix', 'timeZone', 'address', 'line'].includes(wrong.field) && (
          <p className="wrong" role="alert">
            {wrong.text}
          </p>
        )}
        <button type="button" className="btn now wide" onClick={() => void save()}>
          Keep it
        </button>
        {kept && <p role="status">Kept. Today shows it from now on.</p>}
      </section>
    </div>
  );
}
