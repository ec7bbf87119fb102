import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { api, must } from '../../api/client';
import { digits } from '../../kit/numbers';
import { ask } from './ask';

const useBench = (tag: string) =>
  useQuery({
    queryKey: ['lab', 'joint', tag],
    queryFn: () => must(api.GET('/joints/{tag}/lab', { params: { path: { tag } } })),
    retry: false,
  });

/** What the planned way of tightening is expected to leave in the bolts, by the Lab's model; nothing where it knows none. */
export function Expected({ tag }: { tag: string }) {
  const bench = useBench(tag).data;
  const q = useQuery({
    queryKey: ['lab', 'expected', tag, bench],
    queryFn: () => (bench?.planned ? ask('play', { setup: bench.setup, procedure: bench.planned }) : null),
    enabled: !!bench,
    retry: false,
  });
  const o = q.data;
  if (!o) return null;
  return (
    <p className="under">
      Expected by the Lab after {o.word.toLowerCase()}: the lowest bolt has <b>{digits(o.even, 3)} %</b> of the highest,{' '}
      {digits(o.min, 3)} to {digits(o.max, 3)} kN.{' '}
      <Link to="/lab" search={{ tag }}>
        Look at it in the Lab
      </Link>
    </p>
  );
}

/** What a record measured on its bolts, laid over what the Lab expects of them; nothing where it measured none. */
export function MeasuredBy({ tag, record }: { tag: string; record: string }) {
  const bench = useBench(tag).data;
  const measured = bench?.measured.find((m) => m.from === record);
  const q = useQuery({
    queryKey: ['lab', 'overlay', bench?.setup, measured],
    queryFn: () => (bench && measured ? ask('overlay', { setup: bench.setup, runs: [measured] }) : null),
    enabled: !!measured,
    retry: false,
  });
  if (!q.data) return null;
  return (
    <p className="under">
      {q.data.sentence}{' '}
      <Link to="/lab" search={{ tag, run: record }}>
        Look at it in the Lab
      </Link>
    </p>
  );
}
