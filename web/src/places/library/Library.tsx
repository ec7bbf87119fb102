import { TextInput } from '@mantine/core';
import { useLocalStorage } from '@mantine/hooks';
import { getRouteApi } from '@tanstack/react-router';
import { useState } from 'react';
import { useLibrary } from '../../api/client';
import { useSession } from '../../api/session';
import { typedAs, useRules } from '../../kit/figures';
import './library.css';
import { Procedures } from './Procedures';
import { Rules } from './Rules';
import { heads, rows, type ShelfCode } from './shelves';
import { ValueSheet } from './ValueSheet';

const route = getRouteApi('/library');
const shelves = [
  ['lubricants', 'Lubricants'],
  ['materials', 'Materials'],
  ['gaskets', 'Gaskets'],
  ['threads', 'Threads'],
  ['tables', 'Tables'],
  ['flanges', 'Flanges'],
  ['procedures', 'Procedures'],
  ['rules', 'House rules'],
] as const;

const about: Record<ShelfCode, string> = {
  lubricants:
    "Order of authority: the maker's tested value, one measured on site, one laid down by the project, then the built-in typical value. The site's own cards stand first.",
  materials:
    'Least values at room temperature; not to be used hot. A grade of the site’s own comes before the standard of the same name.',
  gaskets: 'What a gasket wants and takes. Its maker states it; the built-in cards are typical and to be confirmed.',
  threads: 'Measures by standard. What was measured on the site’s own nuts and holes comes first where it is given.',
  tables:
    'Torques by type and size, entered once from a maker’s document. A joint names the line it takes; nothing is read between two lines.',
  flanges:
    'What a flange of a size is drilled for. The built-in sizes are typical, to be confirmed on the flange itself; the site’s own of the same name come first.',
};

/** The engineering data everything is worked out with, where each figure comes from, and what the site says itself. */
export function LibraryPlace() {
  const { shelf = 'lubricants', q = '', value } = route.useSearch();
  const navigate = route.useNavigate();
  const { may } = useSession();
  const lib = useLibrary();
  const [inch, setInch] = useLocalStorage({ key: 'library-inch', defaultValue: false, getInitialValueInEffect: false });
  useRules(); // figures are sorted by what core reads
  const [sort, setSort] = useState<{ column: number; down: boolean }>();
  const l = lib.data;
  if (!l) return <p className="empty">{lib.isError ? (lib.error as Error).message : 'One moment.'}</p>;
  const has = (text: string) => q.split(/\s+/).every((w) => text.toLowerCase().includes(w.toLowerCase()));
  const engineer = may('putLibraryValue');
  const table = shelf in heads ? (shelf as ShelfCode) : undefined;
  const all = table ? rows(table, l, { inch }) : [];
  const found = all.filter((r) => has(r.words));
  if (sort) {
    const figure = (v: unknown) => typedAs(String(v).split(' ')[0] ?? '').value;
    found.sort((a, b) => {
      const [x, y] = [a.cells[sort.column], b.cells[sort.column]];
      const d =
        Number.isNaN(figure(x)) || Number.isNaN(figure(y))
          ? String(x ?? '').localeCompare(String(y ?? ''))
          : figure(x) - figure(y);
      return sort.down ? -d : d;
    });
  }
  const open = (code: string | undefined) => void navigate({ search: { shelf, q: q || undefined, value: code } });
  const chosen = all.find((r) => r.code === value);
  return (
    <div className={`library ${table && value !== undefined ? 'with-value' : ''}`}>
      <nav aria-label="Shelves">
        {shelves.map(([code, name]) => (
          <button
            key={code}
            type="button"
            className={code === shelf ? 'on' : ''}
            aria-current={code === shelf ? 'page' : undefined}
            onClick={() => {
              setSort(undefined);
              void navigate({ search: { shelf: code } });
            }}
          >
            {name}
          </button>
        ))}
      </nav>
      <section>
        {!(shelf === 'procedures' && value) && (
          <div className="row-btns" style={{ marginTop: 0 }}>
            <h1 className="title">{shelves.find((s) => s[0] === shelf)?.[1]}</h1>
            {shelf !== 'rules' && (
              <TextInput
                aria-label="Search this shelf"
                placeholder="search this shelf"
                value={q}
                onChange={(e) =>
                  void navigate({ search: { shelf, q: e.currentTarget.value || undefined, value }, replace: true })
                }
              />
            )}
            {table && table !== 'lubricants' && table !== 'tables' && (
              <button type="button" className="btn sm" aria-pressed={inch} onClick={() => setInch(!inch)}>
                {inch ? 'Show mm and MPa' : 'Show inch and ksi'}
              </button>
            )}
            {table && (
              <button
                type="button"
                className="btn sm"
                disabled={!engineer}
                onClick={() => open('')}
                title={engineer ? undefined : 'An engineer changes the Library'}
              >
                Enter the site’s own
              </button>
            )}
            <button type="button" className="btn sm" onClick={() => print()}>
              Print
            </button>
          </div>
        )}
        {table && (
          <>
            <p className="dim">{about[table]}</p>
            <table className="t values">
              <thead>
                <tr>
                  {heads[table].names.map((h, i) => (
                    <th
                      key={h}
                      className={heads[table].figures.includes(i) ? 'n' : ''}
                      aria-sort={sort?.column === i ? (sort.down ? 'descending' : 'ascending') : undefined}
                    >
                      <button
                        type="button"
                        onClick={() => setSort({ column: i, down: sort?.column === i && !sort.down })}
                      >
                        {h}
                        {sort?.column === i ? (sort.down ? ' ↓' : ' ↑') : ''}
                      </button>
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {found.map((r) => (
                  <tr
                    key={`${r.code} ${r.version} ${r.cells.join(' ')}`}
                    className={`${r.version ? 'own' : ''} ${r === chosen ? 'on' : ''}`}
                  >
                    {r.cells.map((c, i) => (
                      <td
                        key={heads[table].names[i]}
                        className={i === 0 ? 'm' : heads[table].figures.includes(i) ? 'n' : ''}
                      >
                        {i === 0 ? (
                          <button type="button" className="code" onClick={() => open(r.code)}>
                            {c}
                            {r.version > 0 && <small>own, version {r.version}</small>}
                          </button>
                        ) : i === 1 ? (
                          <>
                            <b>{c}</b>
                            {r.flag && <span className="hld"> {r.flag}</span>}
                            {r.note && table !== 'threads' && <div className="dim">{r.note}</div>}
                          </>
                        ) : (
                          c
                        )}
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
            {found.length === 0 && (
              <p className="empty">
                Nothing on this shelf is called “{q}”.
                <button
                  type="button"
                  className="btn sm"
                  onClick={() => void navigate({ search: { shelf }, replace: true })}
                >
                  Show all
                </button>
              </p>
            )}
          </>
        )}
        {shelf === 'procedures' && <Procedures code={value} has={has} onOpen={open} />}
        {shelf === 'rules' && <Rules l={l} engineer={may('putHouseRules')} />}
      </section>
      {table && value !== undefined && (value === '' || chosen) && (
        <ValueSheet
          key={`${table} ${value}`}
          shelf={table}
          row={chosen}
          library={l}
          engineer={engineer}
          onClose={() => open(undefined)}
          onKept={(code) => open(code)}
        />
      )}
    </div>
  );
}
