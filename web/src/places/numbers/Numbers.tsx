import { Select, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { getRouteApi, Link } from '@tanstack/react-router';
import { useState } from 'react';
import { api, must, type Numbers, type NumbersRow } from '../../api/client';
import { num, when } from '../../kit/numbers';
import { moment } from '../records/search';
import { RunChart } from './RunChart';
import { Histogram, Strip, StripAxis, span } from './Strips';
import './numbers.css';

const route = getRouteApi('/numbers');
const ways = {
  tool: 'tool',
  crew: 'crew',
  method: 'method',
  lubricant: 'lubricant',
  family: 'family',
  area: 'area',
} as const;
type Way = keyof typeof ways;

/** What is counted: how it is called, what tells it, and what the per cent are of. */
const quantities = {
  torque: {
    label: 'torque',
    told: 'Only pulls whose torque was read are counted: a click tells no figure.',
    zero: 'aim',
  },
  angle: { label: 'turn from the mark', told: 'Only joints that are tightened by turns are counted.', zero: 'aim' },
  stretch: {
    label: 'stretch',
    told: 'Only bolts that are measured while they are stretched are counted.',
    zero: 'middle',
  },
  movement: {
    label: 'movement in the check round',
    told: 'Only nuts that may turn a little, and of which it was said how far they did, are counted, in per cent of what they may.',
    zero: 'none',
  },
} as const;
type Quantity = keyof typeof quantities;

/** How the last pulls of the site lie about their aims: rows by tool, crew or place, what is outside, and what drifts. */
export function NumbersPlace() {
  const search = route.useSearch();
  const navigate = route.useNavigate();
  const [table, setTable] = useState(() => matchMedia('(max-width: 700px)').matches); // strips are for wide sheets
  const by = (search.by && Object.hasOwn(ways, search.by) ? search.by : 'tool') as Way;
  const of = (search.of && Object.hasOwn(quantities, search.of) ? search.of : 'torque') as Quantity;
  const query = {
    of,
    by,
    from: moment(search.from),
    to: moment(search.to, true),
    family: search.family ? [search.family] : undefined,
  };
  const data = useQuery({
    queryKey: ['numbers', query],
    queryFn: () => must(api.GET('/numbers', { params: { query } })),
    placeholderData: (last) => last,
  });
  const families = useQuery({
    queryKey: ['records', 'facets', 'family', ''],
    queryFn: () => must(api.GET('/records/facets', { params: { query: { kind: 'family', q: '' } } })),
  });
  const put = (part: Partial<typeof search>) =>
    void navigate({ search: (old) => ({ ...old, ...part }), replace: true });
  const link = new URLSearchParams({ of, by });
  for (const [k, v] of Object.entries({ from: query.from, to: query.to, family: search.family })) if (v) link.set(k, v);
  const n = data.data;
  return (
    <div className="page numbers">
      <div className="row-btns" style={{ marginTop: 0 }}>
        <h1 className="title">Numbers</h1>
        <button type="button" className="btn sm" aria-pressed={table} onClick={() => setTable(!table)}>
          {table ? 'As strips' : 'As a table'}
        </button>
        <button type="button" className="btn sm" onClick={() => print()}>
          Print
        </button>
        <a className="btn sm" href={`/api/export/numbers.csv?${link}`} download="numbers.csv">
          CSV
        </a>
      </div>
      <search className="sentence">
        <span>Every last</span>
        <Select
          aria-label="What is counted"
          value={of}
          onChange={(v) => put({ of: v === 'torque' ? undefined : (v ?? undefined) })}
          data={Object.entries(quantities).map(([value, q]) => ({ value, label: q.label }))}
          allowDeselect={false}
          w={250}
        />
        <span>since</span>
        <TextInput
          aria-label="Since"
          type="date"
          value={search.from ?? ''}
          onChange={(e) => put({ from: e.currentTarget.value || undefined })}
        />
        <span>to</span>
        <TextInput
          aria-label="Up to and with"
          type="date"
          value={search.to ?? ''}
          onChange={(e) => put({ to: e.currentTarget.value || undefined })}
        />
        <span>against what it should be, on</span>
        <Select
          aria-label="Family"
          value={search.family ?? ''}
          onChange={(v) => put({ family: v || undefined })}
          data={[{ value: '', label: 'every family' }, ...(families.data ?? []).map((f) => f.value)]}
          w={190}
        />
        <span>by</span>
        <Select
          aria-label="Counted by"
          value={by}
          onChange={(v) => put({ by: v ?? undefined })}
          data={Object.entries(ways).map(([value, label]) => ({ value, label }))}
          w={130}
        />
      </search>
      {data.isError && (
        <p className="wrong" role="alert">
          {(data.error as Error).message}
        </p>
      )}
      {n && (
        <>
          <Sheet n={n} by={ways[by]} table={table} zero={quantities[of].zero} />
          {n.all.n === 0 && <p className="empty">No pulls yet in this choice. {quantities[of].told}</p>}
          {n.all.outside > 0 && <Outside rows={n.rows} all={n.all} />}
          {n.all.n > 0 && (
            <div className="below">
              <section>
                <h2 className="rule">All, by half per cent</h2>
                <Histogram n={n} zero={quantities[of].zero} />
                <p className="says">
                  {n.all.outside === 0
                    ? 'None is outside its own joint’s limits.'
                    : `${num(n.all.insidePct, 1)} % are inside; ${n.all.outside} outside.`}
                  {n.all.cpk !== undefined &&
                    ` Cpk ${num(n.all.cpk, 2)}, and 95 of 100 such samples would say ${num(n.all.cpkLow ?? 0, 2)} to ${num(n.all.cpkHigh ?? 0, 2)}.`}
                </p>
              </section>
              <section>
                <h2 className="rule">{n.chart.name ? `${n.chart.name}, day by day` : 'Day by day'}</h2>
                {n.chart.points.length > 0 ? (
                  <>
                    <RunChart chart={n.chart} />
                    <p className="says">{n.chart.says}</p>
                    <p className="dim">
                      Outer lines: 2.66 mean steps from day to day about the middle. Signals: a day past an outer line;
                      eight days in a row on one side.
                    </p>
                  </>
                ) : (
                  <p className="dim">No row has the twenty pulls that it takes to tell.</p>
                )}
              </section>
            </div>
          )}
        </>
      )}
    </div>
  );
}

/** A line for each row: its pulls as a strip of dots, and what they come to. */
function Sheet({ n, by, table, zero }: { n: Numbers; by: string; table: boolean; zero: string }) {
  const [from, to] = span(n);
  return (
    <div className="sheet-scroll">
      <table className="t strips">
        <thead>
          <tr>
            <th>{by}</th>
            {!table && (
              <th className="strip">
                <StripAxis from={from} to={to} zero={zero} />
              </th>
            )}
            <th className="n">pulls</th>
            <th className="n">middle, %</th>
            <th className="n">90 of 100 lie, %</th>
            <th className="n">outside</th>
            {table && <th className="n">Cpk</th>}
          </tr>
        </thead>
        <tbody>
          {n.rows.map((r) => (
            <tr key={r.name}>
              <td>
                <b>{r.name}</b>
              </td>
              {!table && (
                <td className="strip">
                  <Strip row={r} from={from} to={to} n={n} />
                </td>
              )}
              <td className="n">{r.n}</td>
              <td className="n">{signed(r.middle)}</td>
              <td className="n">
                {signed(r.p5)} to {signed(r.p95)}
              </td>
              <td className={r.outside ? 'n neg' : 'n'}>{r.outside || 'none'}</td>
              {table && (
                <td className="n">
                  {r.cpk === undefined
                    ? '–'
                    : `${num(r.cpk, 2)} (${num(r.cpkLow ?? 0, 2)} to ${num(r.cpkHigh ?? 0, 2)})`}
                </td>
              )}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

const signed = (v: number) => (v > 0 ? '+' : '') + num(v, 1);

/** What is outside its own limits, each opening its record. */
function Outside({ rows, all }: { rows: NumbersRow[]; all: NumbersRow }) {
  const list = rows.flatMap((r) => r.worst);
  return (
    <section>
      <h2 className="rule">Outside their own limits</h2>
      <ul className="outside">
        {list.map((v) => (
          <li key={`${v.record}${v.fastener}`}>
            <Link to="/records/$number" params={{ number: v.record }}>
              {v.tag}, {v.fastener}
            </Link>
            : {signed(v.pct)} %, allowed {signed(v.low)} to {signed(v.high)}, {v.tool}, {when(v.at)}
          </li>
        ))}
        {all.outside > list.length && <li className="dim">and {all.outside - list.length} more</li>}
      </ul>
    </section>
  );
}
