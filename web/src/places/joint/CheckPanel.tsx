import { useState } from 'react';
import type { CheckState, ProcedureCheck, RunEvent } from '../../api/client';
import { NotKept } from '../../api/outbox';
import type { LocalRun, RunStore } from '../../api/runStore';
import { useSession } from '../../api/session';
import { Cautions } from '../../kit/Cautions';
import { settled } from '../../kit/checks';
import { when } from '../../kit/numbers';
import { answerGiven, HoldContext, useQuestion } from '../../kit/question';
import { ReasonDialog } from '../../kit/ReasonDialog';
import type { SignRequest } from '../../kit/SignDialog';
import { groupOf } from '../../rosette/GroupRosette';
import { AnswerForm } from './CheckForms';
import { MismatchView } from './Mismatch';
import { Sketch } from './Sketch';

interface PanelProps {
  check: ProcedureCheck;
  state: CheckState;
  run: LocalRun & { store: RunStore | undefined };
  onAnswered: () => void;
  onSign: (r: SignRequest) => void;
}

/** One check opened: what is asked and why, the caution before it, the answer, and the ways out when it fails. */
export function CheckPanel({ check, state, run, onAnswered, onSign }: PanelProps) {
  const { person } = useSession();
  const [asking, setAsking] = useState<'na' | 'deviation'>();
  const [again, setAgain] = useState(false);
  const [wrong, setWrong] = useState('');
  const plan = run.view?.plan;
  const store = run.store;
  const question = useQuestion(`${check.code} ${state.status} ${state.attempts.length} ${again}`);
  if (!plan || !store || !person || run.view?.record) return <Answered check={check} state={state} />;
  const answer = (e: Partial<RunEvent>) => {
    answerGiven();
    setWrong('');
    const kept = store.add(person, { kind: 'check_answered', check: check.code, ...e }).then(() => {
      const after = store.get().state?.checks.find((c) => c.code === check.code);
      setAgain(false);
      if (after?.status === 'cleared') onAnswered();
    });
    question.hold(kept);
    kept.catch((e: Error) => setWrong(e instanceof NotKept ? '' : e.message)); // one that is not kept is told above
    return kept;
  };
  const askAgain = () => {
    answerGiven();
    setAgain(true);
  };
  const deviation = run.state?.deviations.find((d) => d.code === `raised:${check.code}` && d.status === 'open');
  const planned = groupOf(plan, check.fasteners).lubricant;
  const done = settled(state.status);
  const waiver = run.state?.deviations.find((d) => d.code === `waived:${check.code}` && d.status === 'open');
  const stopped = state.status === 'stopped';
  return (
    <div className="question" {...question.guard}>
      {stopped && <div className="stripe" style={{ margin: '8px -14px 0' }} />}
      <h2
        ref={question.heading}
        tabIndex={-1}
        className={stopped ? 'hd2' : ''}
        style={stopped ? undefined : { font: '700 28px/1.05 var(--cond)', marginTop: 12 }}
      >
        {stopped ? (state.findings[0]?.what ?? check.title) : check.title}
      </h2>
      {!done && <Cautions list={check.cautions} />}
      {check.caution && !done && (
        <div className="finding stop">
          <b>Caution</b>
          {check.caution}
        </div>
      )}
      {state.mismatch && <MismatchView m={state.mismatch} />}
      {stopped && !state.mismatch && <p style={{ fontSize: 17, margin: '8px 0' }}>{state.findings[0]?.why}</p>}
      {stopped && state.findings[0]?.remedy && !state.mismatch && (
        <p style={{ fontSize: 17 }}>
          <b>What to do:</b> {state.findings[0].remedy}
        </p>
      )}
      {stopped && state.mismatch && !again && (
        <div className="way">
          <button
            type="button"
            className="btn now wide"
            onClick={() => answer({ answer: planned.code, note: 'cleaned off and done again' })}
          >
            Cleaned off, {planned.name} is on
          </button>
          <p>Thread and nut face of every bolt. Or an engineer makes a plan with {state.mismatch.foundName} in Read.</p>
        </div>
      )}
      {done && !again ? (
        <>
          <Answered check={check} state={state} />
          <button type="button" className="btn sm" style={{ marginTop: 10 }} onClick={askAgain}>
            Answer again
          </button>
        </>
      ) : state.status === 'to_sign' ? (
        <div className="way">
          <p className="ask">
            {state.by} answered: {state.text}.{' '}
            {check.witness && !check.hold ? 'A witness looks on and signs.' : 'A second person looks and signs.'}
          </p>
          <button
            type="button"
            className="btn now wide"
            onClick={() =>
              onSign({
                title: `${check.hold ? 'Sign the hold' : 'Sign as the witness'}: ${check.title}`,
                text: `${check.ask} ${state.by} answered; someone else must sign.`,
                purpose: 'hold',
                check: check.code,
              })
            }
          >
            {check.hold ? 'Sign the hold' : 'The witness signs'}
          </button>
          {check.witness && !check.hold && (
            <button
              type="button"
              className="btn plain"
              onClick={() =>
                onSign({
                  title: `No witness: ${check.title}`,
                  text: 'The work goes on without the one who was to look on; the record says so.',
                  purpose: 'no_witness',
                  check: check.code,
                  needsReason: 'Why nobody looked on',
                })
              }
            >
              Go on without the witness
            </button>
          )}
          <button type="button" className="btn plain" onClick={() => answer({ answer: 'no' })}>
            It is not so
          </button>
        </div>
      ) : state.status === 'to_waive' && !again ? (
        <div className="way">
          <p className="ask">
            {state.by}: {state.text}.
          </p>
          <p>An engineer must sign that it does not apply here. Work goes on then.</p>
          {waiver && (
            <button
              type="button"
              className="btn now wide"
              onClick={() =>
                onSign({
                  title: `${check.title} does not apply`,
                  text: `${check.ask} ${state.by}: ${state.text}.`,
                  purpose: 'deviation',
                  ref: waiver.id,
                  needsReason: 'Why it does not apply here',
                })
              }
            >
              Engineer signs
            </button>
          )}
          <button type="button" className="btn plain" onClick={askAgain}>
            Answer it instead
          </button>
        </div>
      ) : state.mismatch && !again ? (
        <button type="button" className="btn plain" onClick={askAgain}>
          Answer otherwise
        </button>
      ) : (
        <>
          <p className="ask">{check.ask}</p>
          {check.sketch && check.kind !== 'clock' && <Sketch name={check.sketch} plan={plan} group={check.fasteners} />}
          {state.waiting && <p className="finding caution">{state.waiting}</p>}
          <HoldContext value={question.hold}>
            <AnswerForm
              check={check}
              state={state}
              plan={plan}
              run={run}
              onAnswer={answer}
              onTake={(taken) => {
                answerGiven();
                question.hold(
                  store.add(person, { kind: 'wrench_taken', check: check.code, ...taken }).then(onAnswered),
                );
              }}
            />
          </HoldContext>
          <p className="dim" style={{ marginTop: 10 }}>
            <b>Why:</b> {check.why}
          </p>
        </>
      )}
      {stopped && (
        <div className="way">
          {deviation ? (
            <>
              <p>Raised as a deviation: {deviation.what}. It waits for an engineer or inspector.</p>
              <button
                type="button"
                className="btn wide"
                onClick={() =>
                  onSign({
                    title: 'Accept the deviation',
                    text: deviation.what,
                    purpose: 'deviation',
                    ref: deviation.id,
                    needsReason: 'Why it may stay',
                  })
                }
              >
                Engineer or inspector signs
              </button>
            </>
          ) : (
            !check.hold && (
              <>
                <button type="button" className="btn wide" onClick={() => setAsking('deviation')}>
                  Raise a deviation
                </button>
                <p>Stays on the record. An engineer or inspector must accept it with a reason.</p>
              </>
            )
          )}
        </div>
      )}
      {!done && mayBeWaived(check) && state.status !== 'to_sign' && (state.status !== 'to_waive' || again) && (
        <button type="button" className="btn plain" onClick={() => setAsking('na')}>
          Does not apply here
        </button>
      )}
      {wrong && !asking && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
      {state.attempts.length > 1 && (
        <details style={{ marginTop: 10 }}>
          <summary>{state.attempts.length} answers, all kept</summary>
          {state.attempts.map((a) => (
            <div key={a.eventId} className="dim">
              {when(a.at)} {a.by}: {a.text} {a.ok ? '' : '(not met)'}
            </div>
          ))}
        </details>
      )}
      <ReasonDialog
        opened={asking !== undefined}
        title={asking === 'na' ? 'Does not apply' : 'Raise a deviation'}
        text={
          asking === 'na'
            ? `Say in a few words why ${check.title} does not apply. It stands on the record${check.waive === 'engineer' ? ', and an engineer signs for it' : ''}.`
            : `${check.title}: what stays as it is, and why?`
        }
        verb={asking === 'na' ? 'Keep' : 'Raise it'}
        onClose={() => setAsking(undefined)}
        onDone={(reason) => {
          if (asking === 'na') return answer({ answer: 'na', reason });
          answerGiven();
          const raised = store.add(person, { kind: 'deviation_raised', check: check.code, reason });
          question.hold(raised);
          return raised.then(() => undefined);
        }}
      />
    </div>
  );
}

/** Plans of older programs say nothing; by them only a plain question can be left out. */
const mayBeWaived = (c: ProcedureCheck) => (c.waive ? c.waive !== 'nobody' : !c.hold && c.kind === 'confirm');

function Answered({ check, state }: { check: ProcedureCheck; state: CheckState }) {
  return (
    <div style={{ marginTop: 8 }}>
      <p className="ask">{state.text || 'not answered'}</p>
      <p className="dim">
        {state.by}
        {state.at ? `, ${when(state.at)}` : ''}
        {state.signedBy ? `; signed ${state.signedBy}` : ''}
        {state.status === 'by_leave' ? '; by leave' : state.status === 'waived' ? '; waived' : ''}
      </p>
      <p className="dim" style={{ marginTop: 8 }}>
        {check.ask}
      </p>
    </div>
  );
}
