import { TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { api, must } from '../../api/client';
import './records.css';

/** Sealed records of other sites: verified when they came, their key compared, and never counted among our own. */
export function ElsewherePage() {
  const [text, setText] = useState('');
  const [q] = useDebouncedValue(text, 150);
  const list = useQuery({
    queryKey: ['elsewhere', q],
    queryFn: () => must(api.GET('/elsewhere', { params: { query: { q } } })),
    placeholderData: (last) => last,
  });
  const rows = list.data ?? [];
  return (
    <div className="page records-page">
      <div className="row-btns" style={{ marginTop: 0 }}>
        <h1 className="title">Records of other sites</h1>
        <TextInput
          aria-label="Search records of other sites"
          placeholder="site, number, tag, name"
          value={text}
          maxLength={80}
          onChange={(e) => setText(e.currentTarget.value)}
          w={240}
        />
        <Link to="/verify" className="btn sm">
          Verify a file and take it in
        </Link>
        <Link to="/records" className="btn sm">
          Our own
        </Link>
      </div>
      <p className="dim">
        Each was verified when it came, and its key compared with the one its site has made known. They stand apart from
        this site’s records and are in none of its numbers.
      </p>
      {list.isError && (
        <p className="wrong" role="alert">
          {(list.error as Error).message}
        </p>
      )}
      {rows.length === 0 && !list.isPending ? (
        <p className="empty">
          {q ? 'None is like that.' : 'None yet. Verify a file that somebody brought; then take it in.'}
        </p>
      ) : (
        <table className="t">
          <thead>
            <tr>
              <th>Site</th>
              <th>Number</th>
              <th>Tag</th>
              <th className="wide-only">Joint</th>
              <th className="wide-only">Target</th>
              <th>Verdict</th>
              <th className="wide-only">Sealed</th>
              <th className="wide-only">Key</th>
              <th className="wide-only">Taken in</th>
              <th>File</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr key={r.mark}>
                <td>{r.site}</td>
                <td className="m">{r.number}</td>
                <td className="m">
                  <b>{r.tag}</b>
                </td>
                <td className="wide-only">{r.name}</td>
                <td className="wide-only">{r.target}</td>
                <td className={r.verdict === 'accepted' ? '' : 'neg'}>
                  {r.verdict === 'accepted' ? 'accepted' : <b>turned down</b>}
                </td>
                <td className="wide-only">{new Date(r.sealedAt).toLocaleDateString('en-GB')}</td>
                <td className="m wide-only">{r.keyId}</td>
                <td className="wide-only">
                  {r.takenBy}, {new Date(r.takenAt).toLocaleDateString('en-GB')}
                </td>
                <td>
                  <a href={`/api/elsewhere/${r.mark}/record.json`} download={`${r.number}.json`}>
                    sealed file
                  </a>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
