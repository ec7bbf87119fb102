import { Link } from '@tanstack/react-router';
import { useEffect } from 'react';
import type { Today } from '../../api/client';
import { looks } from '../../api/looks';
import { when } from '../../kit/numbers';

/** What waits for somebody because of what they answer for: the inspector's walk-round, the crib's day, the lead's. */
export function Hands({ lists }: { lists: Today['hands'] }) {
  const walks = lists.some((l) => l.walk);
  useEffect(() => {
    if (walks) void looks.takeAlongWhenOld(); // in the morning, for places without signal
  }, [walks]);
  if (lists.length === 0) return null;
  return (
    <section className="hands">
      {lists.map((l) => (
        <div key={l.title}>
          <div className="rule">{l.title}</div>
          {l.walk && (
            <Link to="/walk" className="btn sm">
              Walk round
            </Link>
          )}
          <ul>
            {l.lines.map((x) => (
              <li key={`${x.tool}${x.joint}${x.text}`}>
                {x.at && <span className="m">{when(x.at)}</span>}
                {x.tool && (
                  <Link to="/crib" search={{ tool: x.tool }} className="m">
                    {x.tool}
                  </Link>
                )}
                {x.joint && (
                  <Link to="/joints/$tag" params={{ tag: x.joint }} className="m">
                    {x.joint}
                  </Link>
                )}
                <span>{x.text}</span>
              </li>
            ))}
          </ul>
        </div>
      ))}
    </section>
  );
}
