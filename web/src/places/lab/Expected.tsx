import { useQuery } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { api, must } from '../../api/client';
import { digits } from '../../kit/numbers';
import { ask } from './ask';

/** What the planned way of tightening is expected to leave in the bolts, by the Lab's model; nothing where it knows none. */
export function Expected({ tag }: { tag: string }) {
  const q = useQuery({
    queryKey: ['lab', 'expected', tag],
    queryFn: async () => {
      const { setup, planned } = await must(api.GET('/joints/{tag}/lab', { params: { path: { tag } } }));
      return planned ? ask('play', { setup, procedure: planned }) : null;
    },
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
