import { Link } from '@tanstack/react-router';
import { useSite } from '../../api/client';
import { useSession } from '../../api/session';

const stops = [
  ['named', 0],
  ['a joint', 1],
  ['Read', 3],
  ['Ready', 4],
  ['Tighten', 5.5],
  ['Prove', 8.5],
  ['sealed', 9.4],
] as const;

/** Until the first record is sealed: how far it is, and the ways to begin. */
export function FirstRecord({ joints, first }: { joints: number; first: string | undefined }) {
  const { may } = useSession();
  const site = useSite();
  const at = first ? 2 : joints > 0 ? 2 : 1;
  const s = site.data;
  return (
    <section className="first">
      <h1 className="nw">{joints ? 'No record is sealed yet.' : 'Nothing waits here yet.'}</h1>
      <p>
        From this page to the first sealed joint is about ten minutes.{' '}
        {joints ? 'Open a joint and go on.' : 'Begin with a joint you know.'}
      </p>
      <ol className="ruler" aria-label="Ten minutes to the first record">
        {stops.map(([word, minute], i) => (
          <li
            key={word}
            className={i < at ? 'done' : i === at ? 'now' : ''}
            style={{ left: `${minute * 10}%` }}
            aria-current={i === at ? 'step' : undefined}
          >
            <span className="m">{minute} min</span>
            <b>{word}</b>
          </li>
        ))}
      </ol>
      <div className="ways">
        {joints === 0 && may('createJoint') && (
          <Link to="/joints/new" className="btn now">
            Draw the first joint
          </Link>
        )}
        {may('importJoints') && (
          <Link to="/joints/import" className="btn">
            Bring a list
          </Link>
        )}
        {joints > 0 && !first && (
          <Link to="/joints" className="btn now">
            Choose a joint
          </Link>
        )}
        {may('putTool') && s && s.tools === 0 && (
          <Link to="/crib" className="btn">
            Put the first wrench into the crib
          </Link>
        )}
        {may('putSite') && s && (
          <Link to="/site" className="btn">
            {s.people < 3 ? 'Let more people in' : 'People and site'}
          </Link>
        )}
      </div>
      {s && s.people < 2 && (
        <p className="dim">Two people sign a record: one who tightened, and another who proves it.</p>
      )}
    </section>
  );
}
