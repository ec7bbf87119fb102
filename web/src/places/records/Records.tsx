import { useDebouncedValue } from '@mantine/hooks';
import { useInfiniteQuery } from '@tanstack/react-query';
import { getRouteApi, Link } from '@tanstack/react-router';
import { api, must } from '../../api/client';
import { useSession } from '../../api/session';
import { SavedSearches, SearchSentence } from './RecordSearch';
import { asked, queryOf, type RecordSearch, searchOf } from './search';
import './records.css';

const route = getRouteApi('/records');
const pageSize = 100;

/** Every sealed record, newest first, found by words, days and what it says. */
export function RecordsPlace() {
  const search = route.useSearch();
  const navigate = route.useNavigate();
  const { may } = useSession();
  const [out] = useDebouncedValue(queryOf(asked(search)), 150);
  const query = searchOf(out);
  const list = useInfiniteQuery({
    queryKey: ['records', query],
    queryFn: ({ pageParam }) =>
      must(api.GET('/records', { params: { query: { ...query, limit: pageSize, offset: pageParam } } })),
    initialPageParam: 0,
    getNextPageParam: (last, pages) => (last.rows.length < pageSize ? undefined : pages.length * pageSize),
    placeholderData: (last) => last,
  });
  const rows = list.data?.pages.flatMap((p) => p.rows) ?? [];
  const first = list.data?.pages[0];
  const go = (s: RecordSearch) => void navigate({ search: s, replace: true });
  return (
    <div className="page records-page">
      <div className="row-btns" style={{ marginTop: 0 }}>
        <h1 className="title">Records</h1>
        <Link to="/numbers" className="btn sm">
          Numbers
        </Link>
        <Link to="/books" className="btn sm">
          Books
        </Link>
        <Link to="/verify" className="btn sm">
          Verify a file
        </Link>
        <Link to="/elsewhere" className="btn sm">
          Other sites
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
        <a className="btn sm" href={`/api/export/records.csv?${out}`} download="records.csv">
          CSV
        </a>
        <a className="btn sm" href={`/api/export/records.xlsx?${out}`} download="records.xlsx">
          Spreadsheet
        </a>
        <a className="btn sm" href={`/api/export/results.csv?${out}`} download="results.csv">
          Every bolt, CSV
        </a>
      </div>
      <SearchSentence search={search} onChange={go} />
      <SavedSearches search={search} onChange={go} />
      {list.isError && (
        <p className="wrong" role="alert">
          {(list.error as Error).message}
        </p>
      )}
      <p className="dim" role="status">
        {first?.more ? `More than ${first.total}` : (first?.total ?? 0)} {first?.total === 1 ? 'record' : 'records'}
        {first?.older && '. Some of an earlier version are still being read: they are not found by everything yet.'}
      </p>
      {rows.length === 0 && !list.isPending ? (
        <p className="empty">
          {out
            ? 'No record is like that. Take something out of the search, or look at all of them.'
            : 'No record yet. A joint that is accepted and signed twice is sealed in Hand over.'}
        </p>
      ) : (
        <table className="t">
          <thead>
            <tr>
              <th>Number</th>
              <th>Tag</th>
              <th>Joint</th>
              <th className="wide-only">Area</th>
              <th>Verdict</th>
              <th className="wide-only">Target</th>
              <th className="wide-only">Tightened</th>
              <th className="wide-only">Proved</th>
              <th>Sealed</th>
              <th className="wide-only">Mark</th>
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
                <td className="dim wide-only">{r.area}</td>
                <td className={r.verdict === 'accepted' ? '' : 'neg'}>
                  {r.verdict === 'accepted' ? 'accepted' : <b>turned down</b>}
                  {r.added > 0 && <span className="added-since">, {r.added} added since</span>}
                </td>
                <td className="wide-only">{r.target}</td>
                <td className="wide-only">{r.tightenedBy}</td>
                <td className="wide-only">{r.provedBy}</td>
                <td>
                  {new Date(r.sealedAt).toLocaleString('en-GB', {
                    day: 'numeric',
                    month: 'short',
                    year: 'numeric',
                    hour: '2-digit',
                    minute: '2-digit',
                  })}
                </td>
                <td className="m wide-only">{r.mark.slice(0, 8).toUpperCase()}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {list.hasNextPage && (
        <button
          type="button"
          className="btn"
          disabled={list.isFetchingNextPage}
          onClick={() => void list.fetchNextPage()}
        >
          Show more
        </button>
      )}
    </div>
  );
}
