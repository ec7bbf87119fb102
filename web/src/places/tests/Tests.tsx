import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { api, must } from '../../api/client';
import { useSession } from '../../api/session';
import { digits, when } from '../../kit/numbers';
import { KindShape } from './KindShape';
import './tests.css';

/** The tests under pressure: those that last, then those that are closed. */
export function TestsPlace() {
  const { may } = useSession();
  const list = useQuery({
    queryKey: ['tests'],
    queryFn: () => must(api.GET('/pressure-tests')),
    refetchInterval: 15_000,
  });
  const rows = list.data ?? [];
  return (
    <div className="page tests-page">
      <div className="row-btns" style={{ marginTop: 0 }}>
        <h1 className="title">Tests under pressure</h1>
        {may('putPressureTest') && (
          <Link to="/joints/tests/new" className="btn now">
            Lay out a test
          </Link>
        )}
      </div>
      {list.isError && (
        <p className="wrong" role="alert">
          {(list.error as Error).message}
        </p>
      )}
      {rows.length === 0 && !list.isPending ? (
        <p className="empty">
          None yet. A test covers one joint or several, with water, air, vacuum, the gas of an accumulator, or strokes
          of a hydraulic circuit; its result stands behind the record of every joint it covered.
        </p>
      ) : (
        <table className="t">
          <thead>
            <tr>
              <th>Test</th>
              <th>What</th>
              <th className="wide-only">With</th>
              <th className="wide-only n">Pressure</th>
              <th className="wide-only">Joints</th>
              <th>How it stands</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr key={r.tag} className={r.bad ? 'bad' : ''}>
                <td>
                  <Link to="/joints/tests/$tag" params={{ tag: r.tag }} className="m tag-link">
                    {r.tag}
                  </Link>
                </td>
                <td>{r.title}</td>
                <td className="wide-only">
                  <KindShape kind={r.kind} word={r.kindWord} />
                </td>
                <td className="wide-only n">{r.testBar ? `${digits(r.testBar)} bar` : ''}</td>
                <td className="wide-only m">
                  {r.joints.slice(0, 4).join(', ')}
                  {r.joints.length > 4 ? ` and ${r.joints.length - 4} more` : ''}
                </td>
                <td>
                  {r.withdrawn
                    ? `Withdrawn: ${r.withdrawn}`
                    : r.verdict
                      ? `${r.says.slice(r.says.lastIndexOf(': ') + 2)} ${when(r.at)}`
                      : r.begun
                        ? 'Under way'
                        : 'Laid out'}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
