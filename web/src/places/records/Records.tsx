import { TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { getRouteApi, Link } from '@tanstack/react-router';
import { useState } from 'react';
import { api, must } from '../../api/client';
import { useSession } from '../../api/session';

const route = getRouteApi('/records');

/** Every sealed record, newest first. */
export function RecordsPlace() {
  const search = route.useSearch();
  const { may } = useSession();
  const [text, setText] = useState(search.q ?? '');
  const [q] = useDebouncedValue(text, 150);
  const list = useQuery({
    queryKey: ['records', q],
    queryFn: () => must(api.GET('/records', { params: { query: { q, limit: 500 } } })),
    placeholderData: (last) => last,
  });
  const rows = list.data?.rows ?? [];
  return (
    <div className="page">
      <div className="row-btns" style={{ marginTop: 0 }}>
        <h1 className="title">Records</h1>
        <TextInput
          aria-label="Search records"
          placeholder="tag, number, name, person"
          value={text}
          onChange={(e) => setText(e.currentTarget.value)}
          w={260}
        />
        <Link to="/verify" className="btn sm">
          Verify a file
        </Link>
        <Link to="/keys" className="btn sm">
          Keys and anchors
        </Link>
        {may('listAudit') && (
          <Link to="/audit" className="btn sm">
            Audit log
          </Link>
        )}
        <button type="button" className="btn sm" onClick={() => print()}>
          Print
        </button>
        <span className="dim">{list.data?.total ?? 0} records</span>
      </div>
      {list.isError && <p className="wrong">{(list.error as Error).message}</p>}
      {rows.length === 0 && !list.isPending ? (
        <p className="empty">
          {q
            ? 'No record is like that.'
            : 'No record yet. A joint that is accepted and signed twice is sealed in Hand over.'}
        </p>
      ) : (
        <table className="t" style={{ marginTop: 8 }}>
          <thead>
            <tr>
              <th>Number</th>
              <th>Tag</th>
              <th>Joint</th>
              <th>Area</th>
              <th>Verdict</th>
              <th>Target</th>
              <th>Tightened</th>
              <th>Proved</th>
              <th>Sealed</th>
              <th>Mark</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr key={r.number}>
                <td className="m">
                  <Link to="/records/$number" params={{ number: r.number }}>
                    {r.number}
                  </Link>
                </td>
                <td className="m">
                  <b>{r.tag}</b>
                </td>
                <td>{r.name}</td>
                <td className="dim">{r.area}</td>
                <td className={r.verdict === 'accepted' ? '' : 'neg'}>
                  {r.verdict === 'accepted' ? 'accepted' : <b>turned down</b>}
                </td>
                <td>{r.target}</td>
                <td>{r.tightenedBy}</td>
                <td>{r.provedBy}</td>
                <td>
                  {new Date(r.sealedAt).toLocaleString('en-GB', {
                    day: 'numeric',
                    month: 'short',
                    hour: '2-digit',
                    minute: '2-digit',
                  })}
                </td>
                <td className="m">{r.mark.slice(0, 8).toUpperCase()}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
