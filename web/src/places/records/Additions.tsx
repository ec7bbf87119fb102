import { Link } from '@tanstack/react-router';
import type { Addition } from '../../api/client';
import { num } from '../../kit/numbers';
import { kindName } from './AdditionDialog';

interface Props {
  list: Addition[];
  name?: (position: number) => string; // of a fastener
}

/** What was added behind a seal, in its order. */
export function Additions({ list, name }: Props) {
  return (
    <ol className="additions" data-testid="additions">
      {list.map((a) => {
        const moved = (a.visits ?? []).filter((v) => (v.movedNm ?? 0) > 0);
        const turned = (a.visits ?? []).filter((v) => (v.turnedDeg ?? 0) > 0);
        return (
          <li
            key={a.seq}
            className={
              ['moved_past', 'whole_lot', 'outside'].includes(a.verdict ?? '') || a.failed ? 'finding stop' : 'finding'
            }
          >
            <b>
              {a.seq}. {kindName(a.kind)}
            </b>{' '}
            <span className="dim">
              {a.seenAt && `seen ${new Date(a.seenAt).toLocaleString('en-GB')}, signed `}
              {new Date(a.at).toLocaleString('en-GB')}, {a.person.name}, {a.person.role}
            </span>
            <div>{a.what}</div>
            {a.test && (
              <Link to="/joints/tests/$tag" params={{ tag: a.test }}>
                Open the test
              </Link>
            )}
            {a.kind === 'correction' && (
              <div>
                Where: {a.place}. In the record: <s>{a.was || 'nothing'}</s>. Right:{' '}
                <span className="right">{a.is}</span>.
              </div>
            )}
            {a.sentence && (
              <div>
                <span className="right">{a.sentence}</span>
                {a.tool ? ` With ${a.tool}, ${a.toolIs}.` : ''}
              </div>
            )}
            {moved.length > 0 && name && (
              <div>Moved on at: {moved.map((v) => `${name(v.fastener)} ${num(v.movedNm ?? 0)} N·m`).join(', ')}.</div>
            )}
            {a.photo && <img src={`/api/photos/${a.photo}`} alt={`With: ${a.what}`} loading="lazy" />}
            {turned.length > 0 && name && (
              <div>Turned: {turned.map((v) => `${name(v.fastener)} ${num(v.turnedDeg ?? 0)}°`).join(', ')}.</div>
            )}
          </li>
        );
      })}
    </ol>
  );
}
