import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { api, type CheckState, must } from '../../api/client';
import { outbox } from '../../api/device';
import type { LocalRun, RunStore } from '../../api/runStore';
import { useSession } from '../../api/session';
import { Cautions } from '../../kit/Cautions';
import { settled } from '../../kit/checks';
import { when } from '../../kit/numbers';
import { ReasonDialog } from '../../kit/ReasonDialog';
import { SignDialog, type SignRequest } from '../../kit/SignDialog';
import { CheckPanel } from './CheckPanel';
import { PassTable } from './PassTable';
import { Deviations } from './Prove';
import { GroupItems } from './Ready';

/** Two people sign, then the record is sealed: nothing in it can be changed any more. */
export function HandOver({
  run,
  retired,
  onChanged,
}: {
  run: LocalRun & { store: RunStore | undefined };
  retired: boolean;
  onChanged: () => void;
}) {
  const [signing, setSigning] = useState<SignRequest>();
  const [chosen, setChosen] = useState<string>();
  const [wrong, setWrong] = useState('');
  const [busy, setBusy] = useState(false);
  const [again, setAgain] = useState(false);
  const { may } = useSession();
  const { state: s, store, view } = run;
  const plan = view?.plan;
  if (!s || !plan || !store || !view) return <p className="empty">Read comes first.</p>;
  const checks = plan.checks.filter((c) => c.station === 'hand_over');
  const state = (code: string) => s.checks.find((c) => c.code === code) as CheckState;
  const todo = checks.find((c) => !settled(state(c.code).status));
  const check = checks.find((c) => c.code === chosen) ?? todo;
  const tightened = s.signatures.find((g) => g.purpose === 'tightened');
  const proved = s.signatures.find((g) => g.purpose === 'proved');
  const waiting = run.waiting.filter((w) => !w.refused).length;
  const down = s.signatures.find((g) => g.purpose === 'turned_down');
  const apart = plan.way === 'apart';
  const act = down ? 'seal' : todo ? 'check' : !tightened ? 'tightened' : !proved && !apart ? 'proved' : 'seal';
  async function seal() {
    setBusy(true);
    setWrong('');
    try {
      await outbox.wake();
      await must(api.POST('/runs/{id}/seal', { params: { path: { id: view?.id ?? '' } } }));
      await store?.refresh();
      onChanged();
    } catch (e) {
      setWrong((e as Error).message);
    } finally {
      setBusy(false);
    }
  }
  return (
    <div className="ho">
      <section>
        {view.record ? (
          <>
            <div className={`stripe ${down ? 'rej' : 'ok'}`} style={{ margin: '-12px -18px 12px' }} />
            <h2 className="title" style={{ color: down ? 'var(--rej)' : 'var(--ok)' }}>
              {down ? 'Turned down, sealed' : 'Sealed'} as {view.record}
            </h2>
            <p style={{ fontSize: 17, margin: '8px 0' }}>
              It stays as it is. Corrections are made as new work on the joint, with a record of their own.
            </p>
            <div className="row-btns">
              {may('startRun') && !retired && (
                <button type="button" className={`btn${apart ? ' now' : ''}`} onClick={() => setAgain(true)}>
                  {apart ? 'Fit it again' : 'Work on it again'}
                </button>
              )}
              <Link className={`btn${apart ? '' : ' now'}`} to="/records/$number" params={{ number: view.record }}>
                Open the record
              </Link>
              <a className="btn" href={`/api/records/${view.record}/certificate.pdf`} target="_blank" rel="noreferrer">
                Certificate (PDF)
              </a>
              <a className="btn" href={`/api/records/${view.record}/tag.pdf`} target="_blank" rel="noreferrer">
                Print the tag
              </a>
            </div>
          </>
        ) : (
          <h2 className="title">{s.verdict.word}: what the record will say</h2>
        )}
        <p style={{ fontSize: 17, margin: '10px 0' }}>{s.verdict.sentence}</p>
        {s.follows && (
          <p>
            Worked on again after {s.follows}: {s.followsWhy}.
          </p>
        )}
        {(s.replace?.length ?? 0) > 0 && (
          <>
            <div className="rule">To be there anew before it is fitted again</div>
            <table className="t">
              <tbody>
                {s.replace?.map((r) => (
                  <tr key={r.what}>
                    <td>
                      <b>{r.what}</b>
                    </td>
                    <td>{r.why}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </>
        )}
        {s.remarks?.map((r) => (
          <p key={r} className="finding caution">
            {r}
          </p>
        ))}
        <div className="rule">Passes</div>
        <PassTable state={s} all />
        <table className="t" style={{ marginTop: 8 }}>
          <tbody>
            {s.passes
              .filter((p) => p.from)
              .map((p) => (
                <tr key={p.number}>
                  <td>
                    Pass {p.number}, {p.name}
                  </td>
                  <td>
                    {p.people.join(', ')}, {when(p.from)} to {when(p.to)}, {p.wrenches.join(', ')}
                  </td>
                  <td className={p.notRight.length || p.void ? 'hld' : 'dim'}>
                    {p.void ? `set aside: ${p.void}. ` : ''}
                    {p.notRight.length ? p.notRight.join('; ') : 'nothing out'}
                  </td>
                </tr>
              ))}
          </tbody>
        </table>
        {(plan.after?.length ?? 0) > 0 && (
          <>
            <div className="rule">
              Afterwards<span className="r">house rules, version {plan.houseRulesVersion}</span>
            </div>
            <ul className="after">
              {plan.after?.map((t) => (
                <li key={t}>{t}</li>
              ))}
            </ul>
          </>
        )}
        <Deviations list={s.deviations} sealed={s.station === 'sealed'} onAccept={() => undefined} />
        <p className="dim" style={{ marginTop: 14, borderTop: '1px solid var(--ink)', paddingTop: 8 }}>
          The record documents what was entered and what was out of limits. It does not certify the joint as safe.
        </p>
      </section>
      <section>
        {!view.record && <Cautions list={s.cautions} />}
        {!view.record && !down && (
          <>
            <div className="rule">
              Closing
              <span className="r">
                {checks.filter((c) => settled(state(c.code).status)).length} of {checks.length}
              </span>
            </div>
            <GroupItems checks={checks} chosen={check?.code ?? ''} state={state} onChoose={setChosen} />
            {check && (
              <CheckPanel
                key={check.code}
                check={check}
                state={state(check.code)}
                run={run}
                onAnswered={() => setChosen(undefined)}
                onSign={setSigning}
              />
            )}
          </>
        )}
        <div className="rule" style={{ marginTop: 14 }}>
          Signatures
        </div>
        {down && (
          <div className="sig">
            <span className="lab">Turned down, by name and PIN</span>
            <i>{down.name}</i>
            <span className="dim">
              {down.role}, {when(down.at)}
            </span>
          </div>
        )}
        {(down
          ? []
          : [
              apart
                ? {
                    g: tightened,
                    label: 'Taken apart',
                    purpose: 'tightened',
                    text: 'I took this joint apart as recorded.',
                  }
                : {
                    g: tightened,
                    label: 'Tightened',
                    purpose: 'tightened',
                    text: 'I tightened this joint as recorded.',
                  },
              {
                g: proved,
                label: 'Proved',
                purpose: 'proved',
                text: 'I looked at the joint and the record; what is stated was met.',
              },
            ].filter((q) => !apart || q.purpose === 'tightened')
        ).map((q) => (
          <div key={q.purpose} className="sig">
            <span className="lab">{q.label}, by name and PIN</span>
            {q.g ? (
              <>
                <i>{q.g.name}</i>
                <span className="dim">
                  {q.g.role}, {when(q.g.at)}
                </span>
              </>
            ) : (
              !view.record && (
                <div style={{ marginTop: 6 }}>
                  <button
                    type="button"
                    className={`btn${act === q.purpose ? ' now' : ''}`}
                    style={{ height: 64, width: '100%' }}
                    disabled={act !== q.purpose || waiting > 0}
                    onClick={() =>
                      setSigning({
                        title: q.label,
                        text: q.text,
                        purpose: q.purpose,
                      })
                    }
                  >
                    {apart
                      ? 'Sign as the one who took it apart'
                      : q.purpose === 'tightened'
                        ? 'Sign as the one who tightened'
                        : 'A different inspector signs'}
                  </button>
                </div>
              )
            )}
          </div>
        ))}
        {wrong && (
          <p className="wrong" role="alert">
            {wrong}
          </p>
        )}
        {waiting > 0 && (
          <p className="hld">{waiting} entries are kept here and not sent yet. Signing and sealing need the signal.</p>
        )}
        {!view.record && (
          <button
            type="button"
            className={`btn wide${act === 'seal' ? ' now' : ''}`}
            style={{ marginTop: 12 }}
            disabled={act !== 'seal' || busy || waiting > 0}
            onClick={() => void seal()}
          >
            Seal the record
          </button>
        )}
        {!view.record && s.openItems.length > 0 && (
          <ul className="dim" style={{ marginTop: 8 }}>
            {s.openItems.map((o) => (
              <li key={o}>Open: {o}</li>
            ))}
          </ul>
        )}
      </section>
      <ReasonDialog
        opened={again}
        title={apart ? `Fit ${plan.joint.tag} again` : `Work on ${plan.joint.tag} again`}
        text={`A new run begins, and its record will name ${view.record}. What is sealed stays as it is.`}
        choices={apart ? ['Fitted again', 'Fitted with new parts'] : ['Re-torque', 'Correction']}
        verb="Begin again"
        onClose={() => setAgain(false)}
        onDone={async (reason) => {
          await must(
            api.POST('/joints/{tag}/runs', {
              params: { path: { tag: plan.joint.tag } },
              body: { choices: apart ? {} : plan.choices, reason: '', again: reason },
            }),
          );
          onChanged();
        }}
      />
      <SignDialog runId={store.id} request={signing} onClose={() => setSigning(undefined)} />
    </div>
  );
}
