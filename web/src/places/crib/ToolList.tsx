import { useState } from 'react';
import type { ToolView } from '../../api/client';
import { day } from '../../kit/numbers';
import { conditions } from './Spans';

const shelves: [string, string][] = [
  ['wrenches', 'Torque wrenches'],
  ['between', 'Between wrench and nut'],
  ['hydraulic', 'Hydraulic tools'],
  ['gauges', 'Gauges and meters'],
];
type Column = 'tag' | 'name' | 'condition' | 'holder';

/** Every tool, by shelf; searched, and sorted by a press on a column. */
export function ToolList({
  tools,
  q,
  chosen,
  onChoose,
}: {
  tools: ToolView[];
  q: string;
  chosen: string | undefined;
  onChoose: (tag: string) => void;
}) {
  const [sort, setSort] = useState<{ by: Column; down: boolean }>({ by: 'tag', down: false });
  const [state, setState] = useState('');
  const words = q.toLowerCase().split(/\s+/).filter(Boolean);
  const value = (t: ToolView, by: Column) =>
    ({ tag: t.tool.tag, name: t.name, condition: t.tool.calibrationEnds || '9999', holder: t.holder || '~' })[by];
  const list = tools
    .filter((t) =>
      words.every((w) =>
        `${t.tool.tag} ${t.name} ${t.tool.maker} ${t.tool.serial} ${t.tool.place} ${t.holder} ${t.outAt} ${conditions[t.condition]}`
          .toLowerCase()
          .includes(w),
      ),
    )
    .filter((t) => state === '' || (state === 'out' ? t.holder !== '' : t.condition !== 'fit'))
    .sort((a, b) => value(a, sort.by).localeCompare(value(b, sort.by), 'en', { numeric: true }) * (sort.down ? -1 : 1));
  const th = (by: Column, name: string) => (
    <th aria-sort={sort.by === by ? (sort.down ? 'descending' : 'ascending') : 'none'}>
      <button type="button" className="th" onClick={() => setSort({ by, down: sort.by === by && !sort.down })}>
        {name}
        {sort.by === by ? (sort.down ? ' ↓' : ' ↑') : ''}
      </button>
    </th>
  );
  return (
    <div style={{ padding: '0 14px 14px' }}>
      <div className="row-btns" style={{ margin: '4px 0' }}>
        {[
          ['', 'all'],
          ['due', 'due, ran out or aside'],
          ['out', 'out of the crib'],
        ].map(([v, name]) => (
          <button key={v} type="button" className="btn sm" aria-pressed={state === v} onClick={() => setState(v ?? '')}>
            {name}
          </button>
        ))}
        <span className="dim">
          {list.length} of {tools.length}
        </span>
      </div>
      {list.length === 0 && (
        <p className="empty">
          {tools.length === 0 ? 'No tool yet. Enter the first, or import a list.' : 'No tool is called so.'}
        </p>
      )}
      {shelves.map(([group, title]) => {
        const here = list.filter((t) => t.group === group);
        if (here.length === 0) return null;
        return (
          <section key={group}>
            <h2 className="rule">{title}</h2>
            <table className="t tools">
              <thead>
                <tr>
                  {th('tag', 'Tag')}
                  {th('name', 'What')}
                  {th('condition', 'Certificate')}
                  {th('holder', 'Where')}
                </tr>
              </thead>
              <tbody>
                {here.map((t) => (
                  <tr key={t.tool.tag} className={t.tool.tag === chosen ? 'chosen' : ''}>
                    <td>
                      <button type="button" className="th m" onClick={() => onChoose(t.tool.tag)}>
                        {t.tool.tag}
                      </button>
                    </td>
                    <td>{t.name}</td>
                    <td className={t.condition === 'fit' ? '' : 'hld'}>
                      {t.condition === 'fit' || t.condition === 'due_soon'
                        ? t.tool.calibrationEnds
                          ? `${t.condition === 'due_soon' ? 'ends' : 'to'} ${day(t.tool.calibrationEnds)}`
                          : 'none needed'
                        : conditions[t.condition]}
                    </td>
                    <td>
                      {t.holder ? `${t.holder}, ${t.outAt}` : t.tool.place}
                      {t.linked && <b> · linked</b>}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </section>
        );
      })}
    </div>
  );
}
