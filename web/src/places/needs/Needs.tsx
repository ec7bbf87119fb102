import { Select } from '@mantine/core';
import { useLocalStorage } from '@mantine/hooks';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { getRouteApi, Link } from '@tanstack/react-router';
import { useState } from 'react';
import { api, must, type Need, usePackages } from '../../api/client';
import { useSession } from '../../api/session';
import { num } from '../../kit/numbers';
import { StockForm } from './StockForm';
import { StockList } from './StockList';
import './needs.css';

const route = getRouteApi('/needs');

const kinds = [
  ['part', 'Parts'],
  ['spare', 'Spares'],
  ['supply', 'Consumables'],
  ['lubricant', 'Lubricants'],
  ['tool', 'Tools'],
] as const;

/** Everything a work package takes, held against what is there; a list to pick from, and what a shortage stops. */
export function NeedsPlace() {
  const search = route.useSearch();
  const navigate = route.useNavigate();
  const packages = usePackages();
  const code = search.package ?? packages.data?.[0]?.code ?? '';
  const { may } = useSession();
  const qc = useQueryClient();
  const [ticked, setTicked] = useLocalStorage<string[]>({ key: `ready ${code}`, defaultValue: [] });
  const [entering, setEntering] = useState<Need>();
  const q = useQuery({
    queryKey: ['packages', code, 'needs'],
    queryFn: () => must(api.GET('/packages/{code}/needs', { params: { path: { code } } })),
    enabled: code !== '',
  });
  const list = q.data ?? [];
  const short = list.filter((n) => n.short > 0);
  const stopped = [...new Set(short.flatMap((n) => n.stops))].sort();
  const changed = () => {
    setEntering(undefined);
    void qc.invalidateQueries({ queryKey: ['packages', code, 'needs'] });
    void qc.invalidateQueries({ queryKey: ['stock'] });
  };
  return (
    <div className="page needs">
      <div className="row-btns">
        <h1 className="title">What it takes</h1>
        <Select
          aria-label="Work package"
          value={code || null}
          onChange={(p) => p && void navigate({ search: { package: p }, replace: true })}
          data={(packages.data ?? []).map((p) => ({ value: p.code, label: `${p.code} ${p.name}` }))}
          searchable
          allowDeselect={false}
        />
        <span className="sp" />
        <button type="button" className="btn sm" onClick={() => print()}>
          Print the pick list
        </button>
      </div>
      {packages.isSuccess && !code && <p className="empty">No work package yet. Give joints one in the register.</p>}
      {q.isError && (
        <p className="wrong" role="alert">
          {(q.error as Error).message}
        </p>
      )}
      {q.isSuccess && (
        <p className={short.length > 0 ? 'finding stop' : ''} role="status">
          {short.length === 0
            ? 'Nothing is short for the joints that are open.'
            : `${short.length === 1 ? 'One thing is' : `${short.length} things are`} short by the stock list. That stops ${stopped.length} of the joints, served in the order of their tags: ${stopped.slice(0, 12).join(', ')}${stopped.length > 12 ? ` and ${stopped.length - 12} more` : ''}.`}
        </p>
      )}
      {entering && (
        <StockForm
          title={`In stock of ${entering.what}`}
          from={{ kind: entering.kind, what: entering.what }}
          onDone={changed}
          onBack={() => setEntering(undefined)}
        />
      )}
      {kinds.map(([kind, title]) => {
        const of = list.filter((n) => n.kind === kind);
        if (of.length === 0) return null;
        const got = of.filter((n) => ticked.includes(n.kind + n.what)).length;
        return (
          <div key={kind} className="scroll-x">
            <table className="t picking">
              <thead>
                <tr>
                  <th>
                    <span className="sr">Ready</span>
                  </th>
                  <th>
                    {title}
                    {got > 0 && `, ${got} of ${of.length} ready`}
                  </th>
                  <th className="n">For open joints</th>
                  <th className="n">In all</th>
                  <th>In stock</th>
                  <th>Short, and what it stops</th>
                </tr>
              </thead>
              <tbody>
                {of.map((n) => (
                  <tr key={n.what} className={n.short > 0 ? 'short' : ''}>
                    <td>
                      <input
                        type="checkbox"
                        aria-label={`${n.what} is ready`}
                        checked={ticked.includes(kind + n.what)}
                        onChange={(e) =>
                          setTicked((old) =>
                            e.target.checked ? [...old, kind + n.what] : old.filter((t) => t !== kind + n.what),
                          )
                        }
                      />
                    </td>
                    <td>
                      {n.what}
                      <small>{n.joints.join(', ')}</small>
                    </td>
                    <td className="n">{n.open > 0 ? num(n.open) : ''}</td>
                    <td className="n">{n.quantity > 0 ? num(n.quantity) : 'as needed'}</td>
                    <td>
                      {n.places.join('; ')}
                      {kind !== 'tool' && may('putStock') && (
                        <button
                          type="button"
                          className="btn plain sm"
                          aria-label={`Enter stock of ${n.what}`}
                          onClick={() => setEntering(n)}
                        >
                          Enter
                        </button>
                      )}
                    </td>
                    <td>
                      {n.short > 0 && (
                        <>
                          <b className="hld">{num(n.short)} short</b>
                          <small>stops {n.stops.join(', ')}</small>
                        </>
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        );
      })}
      {list.some((n) => n.kind === 'tool') && (
        <p className="dim">
          Tools are told by kind; which of them fit, and where they are, the <Link to="/crib">Crib</Link> knows. Ticks
          are kept on this device.
        </p>
      )}
      <StockList may={may('putStock')} onChanged={changed} />
    </div>
  );
}
