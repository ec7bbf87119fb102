import { TextInput } from '@mantine/core';
import { type FormEvent, type ReactNode, useState } from 'react';
import { type DeviceResult, type PressureTest, refusedField } from '../../api/client';
import { useLive } from '../../api/live';
import { digits, num } from '../../kit/numbers';
import { ReasonDialog } from '../../kit/ReasonDialog';
import { left, share } from './chart';
import type { Send } from './Test';

/** What is to be done next, large: a condition, a reading, a place to look at, a stroke, down, or a signature. */
export function Act({
  v,
  now,
  send,
  onSign,
  may,
  children,
}: {
  v: PressureTest;
  now: number;
  send: Send;
  onSign: (as: 'leader' | 'witness') => void;
  may: boolean;
  children?: ReactNode; // what is told between the number and what is entered
}) {
  const { state, spec } = v;
  const { act, phase } = state;
  const [wrong, setWrong] = useState<{ field: string; text: string }>();
  const [busy, setBusy] = useState(false);
  const [barAs, setBar] = useState('');
  const [tempAs, setTemp] = useState('');
  const [from, setFrom] = useState(''); // what the gauge sent last
  // A gauge that sends fills the field; whoever stands there looks at it and keeps it.
  useLive(
    undefined,
    v.sealed || !spec.gauge.tag ? [] : [spec.gauge.tag],
    (note) => {
      const r = note.kind === 'result' ? (note.data as DeviceResult | undefined) : undefined;
      if (r?.reading.unit !== 'bar') return;
      setBar(String(r.reading.value));
      setFrom(String(r.reading.value));
    },
    () => undefined,
  );
  const [asking, setAsking] = useState<'weeps' | 'back'>();
  const gate = state.gates.find((g) => g.code === act.gate);
  const hold = phase === 'holding' ? state.holds.at(-1) : undefined;
  const pressed =
    phase === 'going' || phase === 'holding' || phase === 'filling' || phase === 'driving' || phase === 'looking';
  async function go(event: Parameters<Send>[0]) {
    if (busy) return;
    setBusy(true);
    setWrong(undefined);
    try {
      await send(event);
      setBar('');
      setTemp('');
    } catch (e) {
      setWrong(refusedField(e));
    } finally {
      setBusy(false);
    }
  }
  const reads = act.kind === 'read' || phase === 'holding' || phase === 'going';
  const takes = reads || act.kind === 'let_down';
  const due = !act.until || Date.parse(act.until) <= now;
  const error = (f: string) => (wrong?.field === f ? wrong.text : undefined);
  function read(e: FormEvent) {
    e.preventDefault();
    void go(
      act.kind === 'let_down'
        ? { kind: 'let_down', ...(barAs ? { barAs } : {}) }
        : { kind: 'read', barAs, ...(tempAs ? { tempAs } : {}) },
    );
  }
  const lastEvent = [...v.events].reverse().find((e) => e.kind !== 'noted' && e.kind !== 'taken_back');
  const back =
    lastEvent && ['read', 'looked', 'let_down'].includes(lastEvent.kind) && v.events.at(-1)?.kind !== 'taken_back'
      ? lastEvent
      : undefined;
  return (
    <section className="act" aria-label="What is to be done">
      <h2 className="rule">
        {phase === 'before'
          ? `Before there is pressure, ${state.gates.filter((g) => g.at).length} of ${state.gates.length}`
          : hold
            ? `Hold at ${digits(hold.bar)} bar`
            : phase === 'going'
              ? `Step ${state.step} of ${spec.steps?.length ?? 0}`
              : phase === 'driving'
                ? 'To and fro'
                : phase === 'signing'
                  ? 'Two signatures'
                  : phase === 'down'
                    ? `${state.verdict.word}`
                    : v.kindWord}
        {spec.designBar && spec.testBar && (hold?.judged || phase === 'going') ? (
          <span className="r">
            {num(spec.testBar / spec.designBar, 2)} × design {digits(spec.designBar)} bar
          </span>
        ) : null}
      </h2>
      {hold && hold.min > 0 ? (
        <div className="big-number">
          <span className="m" role="timer" aria-label="Time left in the hold">
            {left(act.until, now)}
          </span>
          <span>
            min : s left
            <br />
            of {num(hold.min)} min
          </span>
        </div>
      ) : act.bar !== undefined && phase !== 'holding' ? (
        <div className="big-number">
          <span className="m">{digits(act.bar, 3)}</span>
          <span>
            bar{spec.gauge.absolute ? ', absolute' : ''}
            <br />
            on {spec.gauge.tag}, to {digits(spec.gauge.rangeBar)} bar
          </span>
        </div>
      ) : phase === 'driving' ? (
        <div className="big-number">
          <span className="m">{Math.min(state.out, state.back)}</span>
          <span>
            of {spec.cycles}
            <br />
            times each way
          </span>
        </div>
      ) : null}
      {hold && hold.min > 0 && act.until && (
        <div className="hold-bar" aria-hidden="true">
          <i style={{ width: `${share(hold.first.at, act.until, now) * 100}%` }} />
        </div>
      )}
      <p className="act-text">{act.text}</p>
      {phase === 'down' && !children && <p>{state.verdict.sentence}</p>}
      {children}
      {wrong && !['barAs', 'tempAs'].includes(wrong.field) && (
        <p className="wrong" role="alert">
          {wrong.text}
        </p>
      )}
      {!may ? (
        <p className="dim">You look on: recording is for those who lead the test.</p>
      ) : (
        <>
          {takes && (
            <form className="entry" onSubmit={read}>
              <TextInput
                label={`Gauge ${spec.gauge.tag}, bar`}
                description={from !== '' && from === barAs ? 'sent by the gauge' : undefined}
                value={barAs}
                error={error('barAs')}
                inputMode="decimal"
                autoComplete="off"
                maxLength={40}
                onChange={(e) => setBar(e.currentTarget.value)}
              />
              {act.kind !== 'let_down' && (
                <TextInput
                  label={`${spec.kind === 'hydrostatic' ? 'Water' : 'Gas'}, °C`}
                  value={tempAs}
                  error={error('tempAs')}
                  inputMode="decimal"
                  autoComplete="off"
                  maxLength={40}
                  onChange={(e) => setTemp(e.currentTarget.value)}
                />
              )}
              <button
                type="submit"
                className={`btn${(act.kind === 'read' && due) || act.kind === 'let_down' ? ' now' : ''}`}
                disabled={busy || !barAs.trim()}
              >
                {act.kind === 'let_down' ? 'No pressure is left' : 'Keep the reading'}
              </button>
            </form>
          )}
          <div className="acts">
            {act.kind === 'confirmed' && gate && (
              <button
                type="button"
                className="btn now wide"
                disabled={busy}
                onClick={() => (gate.pin ? onSign('witness') : void go({ kind: 'confirmed', gate: gate.code }))}
              >
                {gate.pin ? 'The witness signs' : gate.barrier ? 'It is closed' : 'It is so'}
              </button>
            )}
            {act.kind === 'looked' && act.joint && (
              <>
                <button
                  type="button"
                  className="btn now wide"
                  disabled={busy}
                  onClick={() => void go({ kind: 'looked', joint: act.joint ?? '', dry: true })}
                >
                  {act.joint} is dry
                </button>
                <button type="button" className="btn wide" disabled={busy} onClick={() => setAsking('weeps')}>
                  Weeps
                </button>
              </>
            )}
            {act.kind === 'driven' && (
              <button
                type="button"
                className="btn now wide"
                disabled={busy}
                onClick={() => void go({ kind: 'driven', way: act.way ?? '' })}
              >
                Driven {act.way}
              </button>
            )}
            {act.kind === 'signed' && (
              <>
                {!state.signatures.some((s) => s.as === 'leader') && (
                  <button type="button" className="btn now wide" onClick={() => onSign('leader')}>
                    Sign as leader
                  </button>
                )}
                {!state.signatures.some((s) => s.as === 'witness') && (
                  <button
                    type="button"
                    className={`btn wide${state.signatures.length ? ' now' : ''}`}
                    onClick={() => onSign('witness')}
                  >
                    Sign as witness
                  </button>
                )}
              </>
            )}
            {pressed && (
              <button
                type="button"
                className="btn wide"
                disabled={busy}
                onClick={() => void go({ kind: 'let_down', ...(barAs ? { barAs } : {}) })}
              >
                Let down
              </button>
            )}
          </div>
          <div className="row-btns">
            {state.gates
              .filter((g) => g.barrier && g.at && (phase === 'going' || phase === 'holding'))
              .map((g) => (
                <button
                  key={g.code}
                  type="button"
                  className="btn sm"
                  onClick={() => void go({ kind: 'opened', gate: g.code })}
                >
                  Barrier {g.code.split('/')[1]} was opened
                </button>
              ))}
            {back && (
              <button type="button" className="btn sm" onClick={() => setAsking('back')}>
                Take back the last
              </button>
            )}
          </div>
        </>
      )}
      <ReasonDialog
        opened={asking === 'weeps'}
        title={`${act.joint ?? ''} weeps`}
        text="The test fails, and pressure goes. Nothing is tightened under pressure."
        choices={['A drop that comes back when it is wiped off', 'Runs or sprays']}
        verb="Keep it"
        onClose={() => setAsking(undefined)}
        onDone={(note) => send({ kind: 'looked', joint: act.joint ?? '', note })}
      />
      <ReasonDialog
        opened={asking === 'back'}
        title="Take back the last"
        text="It stays in the sheet, crossed out, with the reason."
        choices={['Typed wrong', 'Read at another gauge']}
        verb="Take it back"
        onClose={() => setAsking(undefined)}
        onDone={(note) => send({ kind: 'taken_back', ref: back?.id ?? '', note })}
      />
    </section>
  );
}
