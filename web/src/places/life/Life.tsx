import { useQuery } from '@tanstack/react-query';
import { getRouteApi, Link } from '@tanstack/react-router';
import { useState } from 'react';
import { api, type LifeMark, must, useJoint } from '../../api/client';
import { when } from '../../kit/numbers';
import { TagPlate } from '../../rosette/Glyph';
import { Compare } from './Compare';
import { MarkFillings, MarkShape } from './LifeMark';
import { LifeRuler } from './LifeRuler';
import './life.css';

const route = getRouteApi('/joints/$tag/life');

/** A joint over the years: what happened on one ruler, what its history tells, two runs laid over each other. */
export function LifePlace() {
  const { tag } = route.useParams();
  const joint = useJoint(tag);
  const life = useQuery({
    queryKey: ['joint', tag, 'life'],
    queryFn: () => must(api.GET('/joints/{tag}/life', { params: { path: { tag } } })),
    retry: false,
  });
  const [mark, setMark] = useState<LifeMark>();
  const [pair, setPair] = useState<string[]>();
  const [now] = useState(() => Date.now());
  if (!life.data)
    return <p className="empty">{life.isError ? (life.error as Error).message : 'Fetching its history.'}</p>;
  const { runs, tells, marks } = life.data;
  const fitted = runs.filter((r) => !r.apart);
  const chosen = pair ?? fitted.slice(-2).map((r) => r.id);
  const [first, second] = fitted.filter((r) => chosen.includes(r.id));
  const row = joint.data?.joint;
  const shape = { family: row?.family ?? '', count: row?.bolts ?? 8 };
  function choose(m: LifeMark) {
    setMark(m);
    const id = m.run;
    if (m.lane !== 'run' || !id || !fitted.some((r) => r.id === id)) return;
    setPair(chosen.includes(id) ? chosen.filter((x) => x !== id) : [...chosen.slice(-1), id]);
  }
  return (
    <div className="page life">
      <MarkFillings />
      <div className="row-btns" style={{ marginTop: 0, alignItems: 'center' }}>
        <TagPlate text={tag} size={26} />
        <h1 className="title">Its life</h1>
        <span>{row?.name}</span>
        <span style={{ flex: 1 }} />
        <Link className="btn" to="/joints/$tag" params={{ tag }}>
          The joint
        </Link>
        <button type="button" className="btn" onClick={() => print()}>
          Print
        </button>
      </div>
      {marks.length === 0 ? (
        <p className="empty">Nothing has happened to it yet.</p>
      ) : (
        <>
          <LifeRuler life={life.data} {...shape} chosen={mark} runs={chosen} now={now} onChoose={choose} />
          {mark && (
            <div className={`finding chosen-mark${mark.bad ? ' stop' : ''}`} role="status">
              <b>{mark.title}</b>
              <span className="dim">{when(mark.at)}</span> {mark.text}{' '}
              {mark.record && (
                <Link to="/records/$number" params={{ number: mark.record }}>
                  Open {mark.record}
                </Link>
              )}
            </div>
          )}
          <section>
            <h2 className="rule">What its own history tells</h2>
            {tells.length === 0 ? (
              <p>Nothing speaks against it.</p>
            ) : (
              <ul className="tells">
                {tells.map((t) => (
                  <li key={t.text}>{t.text}</li>
                ))}
              </ul>
            )}
          </section>
          {first && second ? (
            <Compare tag={tag} a={first.id} b={second.id} names={[`run ${first.number}`, `run ${second.number}`]} />
          ) : (
            <p className="dim">
              {fitted.length < 2
                ? 'One run. The next will be laid over it.'
                : 'Press two runs on the ruler to lay one over the other.'}
            </p>
          )}
          <details className="life-list" open>
            <summary>Everything, from now back ({marks.length})</summary>
            <ol>
              {[...marks]
                .sort((a, b) => b.at.localeCompare(a.at))
                .map((m) => (
                  <li key={`${m.lane}${m.at}${m.title}`}>
                    <MarkShape mark={m} {...shape} />
                    <span>
                      <b>{m.title}</b> <span className="dim">{when(m.at)}</span>
                      <br />
                      {m.text}
                    </span>
                  </li>
                ))}
            </ol>
          </details>
        </>
      )}
    </div>
  );
}
