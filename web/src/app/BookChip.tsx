import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useEffect, useRef, useState } from 'react';
import { api, type DossierView, must } from '../api/client';

const ends = { bound: 'is bound', failed: 'could not be made', stopped: '', making: '' };

/** The hand-over book in the making, wherever one is; and how it ended. */
export function BookChip() {
  const qc = useQueryClient();
  const making = useQuery({
    queryKey: ['books making'],
    queryFn: () => must(api.GET('/dossiers')),
    refetchInterval: (q) => (q.state.data?.length ? 1500 : 20_000),
  });
  const was = useRef<string[]>([]);
  const [ended, setEnded] = useState<{ code: string; how: string }>();
  useEffect(() => {
    if (!making.data) return;
    const now = making.data.map((m) => m.package);
    const gone = was.current.find((code) => !now.includes(code));
    was.current = now;
    if (!gone) return;
    const key = ['books', gone];
    void qc
      .fetchQuery<DossierView>({
        queryKey: key,
        queryFn: () => must(api.GET('/packages/{code}/dossier', { params: { path: { code: gone } } })),
      })
      .then((v) => {
        const how = ends[v.last?.state ?? 'stopped'];
        if (how) setEnded({ code: gone, how });
      });
  }, [making.data, qc]);
  const m = making.data?.[0];
  const code = m?.package ?? ended?.code;
  if (!code) return null;
  return (
    <Link
      to="/books/$code"
      params={{ code }}
      className="chip book-chip"
      role="status"
      onClick={() => setEnded(undefined)}
    >
      {m ? `book ${m.done} of ${m.about}` : `book of ${code} ${ended?.how}`}
    </Link>
  );
}
