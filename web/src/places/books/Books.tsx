import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { api, must, usePackages } from '../../api/client';
import './books.css';

/** The work packages, each with its hand-over book. */
export function BooksPlace() {
  const packages = usePackages();
  const making = useQuery({
    queryKey: ['books making'],
    queryFn: () => must(api.GET('/dossiers')),
    refetchInterval: 3000,
  });
  const rows = packages.data ?? [];
  return (
    <div className="page book-page">
      <h1 className="title">Hand-over books</h1>
      {packages.isError && (
        <p className="wrong" role="alert">
          {(packages.error as Error).message}
        </p>
      )}
      {rows.length === 0 && !packages.isPending ? (
        <p className="empty">
          No work package yet. A joint belongs to one by its place in the register; the book of a package has the
          certificates of all its joints, and says what is missing.
        </p>
      ) : (
        <table className="t">
          <thead>
            <tr>
              <th>Package</th>
              <th>What</th>
              <th className="n">Joints</th>
              <th className="n">Accepted</th>
              <th>Book</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((p) => {
              const m = making.data?.find((x) => x.package === p.code);
              return (
                <tr key={p.code}>
                  <td className="m">
                    <b>{p.code}</b>
                  </td>
                  <td>{p.name}</td>
                  <td className="n">{p.joints}</td>
                  <td className="n">{p.accepted}</td>
                  <td>
                    <Link to="/books/$code" params={{ code: p.code }}>
                      {m ? `leaf ${m.done} of about ${m.about}` : `Book of ${p.code}`}
                    </Link>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
    </div>
  );
}
