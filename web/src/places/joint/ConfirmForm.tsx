import { useState } from 'react';
import type { ProcedureCheck, RunEvent } from '../../api/client';
import type { LocalRun } from '../../api/runStore';
import { PhotoAnswer } from './FitForms';
import { ToBring } from './ToBring';

/** Yes or no; with the way it was done where some ways are forbidden, and with a photo where the procedure asks for one. */
export function ConfirmForm({
  check,
  run,
  onAnswer,
}: {
  check: ProcedureCheck;
  run: LocalRun;
  onAnswer: (e: Partial<RunEvent>) => void;
}) {
  const [method, setMethod] = useState<string>();
  const ways = check.do && check.dont ? [...check.do, ...check.dont] : [];
  const [ticked, setTicked] = useState<string[]>([]);
  const how = { ...(method ? { method } : {}), ...(ticked.length ? { items: ticked } : {}) };
  const plan = run.view?.plan;
  return (
    <>
      <Methods check={check} />
      {check.code === 'start_card' && plan && <ToBring plan={plan} ticked={ticked} onTick={setTicked} />}
      {ways.length > 0 && (
        <div className="row-btns">
          {ways.map((w) => (
            <button
              key={w}
              type="button"
              className={`btn sm${w === method ? ' on' : ''}`}
              aria-pressed={w === method}
              onClick={() => setMethod(w === method ? undefined : w)}
            >
              {w}
            </button>
          ))}
        </div>
      )}
      <div className="answers">
        {check.photo ? (
          <PhotoAnswer
            run={run}
            verb="Yes, with a photo"
            onPhoto={(photo) => onAnswer({ answer: 'yes', ...photo, ...how })}
          />
        ) : (
          <button type="button" className="btn now" onClick={() => onAnswer({ answer: 'yes', ...how })}>
            Yes, it is so
          </button>
        )}
        <button type="button" className="btn" onClick={() => onAnswer({ answer: 'no', ...how })}>
          No
        </button>
      </div>
    </>
  );
}

export function Methods({ check }: { check: ProcedureCheck }) {
  if (!check.do && !check.dont) return null;
  return (
    <p className="methods">
      {check.do && (
        <>
          <b>Use:</b> {check.do.join(', ')}.{' '}
        </>
      )}
      {check.dont && (
        <>
          <b className="neg">Never:</b> {check.dont.join(', ')}.
        </>
      )}
    </p>
  );
}
