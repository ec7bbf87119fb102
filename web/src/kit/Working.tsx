import type { Working } from '../api/client';
import './kit.css';

const originWord: Record<string, string> = {
  supplied: 'supplied',
  'looked-up': 'table',
  calculated: 'worked out',
  assumed: 'usual',
};

/** How a figure came about: formula, numbers put in, where each came from, what is taken for granted. */
export function WorkingSheet({ workings, titles }: { workings: Working[]; titles?: string[] }) {
  const list = titles ? workings.filter((w) => titles.some((t) => w.title.startsWith(t))) : workings;
  return (
    <div className="working" data-testid="working">
      {list.map((w) => (
        <section key={w.title}>
          <h3>{w.title}</h3>
          <dl>
            {w.lines.map((l) => (
              <div key={l.symbol + l.name} style={{ display: 'contents' }}>
                <dt>{l.symbol}</dt>
                <dd>
                  {l.name} <span className={`origin ${l.origin}`}>{originWord[l.origin]}</span>
                  {l.formula && (
                    <div className="eq">
                      {l.formula}
                      {l.numbers && l.numbers !== l.formula ? ` = ${l.numbers}` : ''}
                    </div>
                  )}
                  {l.source && <small>{l.source}</small>}
                </dd>
                <dd className="val">{l.text}</dd>
              </div>
            ))}
          </dl>
          <ul>
            {w.takes.map((t) => (
              <li key={t}>{t}</li>
            ))}
            {w.warnings.map((t) => (
              <li key={t} className="warn">
                {t}
              </li>
            ))}
          </ul>
        </section>
      ))}
    </div>
  );
}
