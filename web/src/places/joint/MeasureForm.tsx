import { useEffect, useRef, useState } from 'react';
import type { CheckState, DeviceResult, ProcedureCheck, Reading, RunEvent } from '../../api/client';
import { useLive } from '../../api/live';
import type { LocalRun } from '../../api/runStore';
import { readingOf, typedAs, useSend } from '../../kit/figures';
import { num, unitText } from '../../kit/numbers';
import { WorkingSheet } from '../../kit/Working';
import { limitText } from './limits';

export const clockNames = ['12 o’clock', '3 o’clock', '6 o’clock', '9 o’clock'];

export const gauges = ['caliper', 'depth_gauge', 'feelers', 'dial_indicator', 'stretch_gauge'];

export function MeasureForm({
  check,
  state,
  run,
  onAnswer,
}: {
  check: ProcedureCheck;
  state: CheckState;
  run: LocalRun;
  onAnswer: (e: Partial<RunEvent>) => void;
}) {
  const names = check.names ?? [];
  const counts = names.length > 0 ? [names.length] : (check.stations ?? [4]);
  const [n, setN] = useState(names.length || state.values?.length || counts[counts.length - 1] || 4);
  const nameOf = (i: number) =>
    names[i] ?? (n === 4 ? (clockNames[i] ?? '') : `${String.fromCharCode(97 + i)}${i === 0 ? ', top' : ''}`);
  const [values, setValues] = useState<string[]>([]);
  const { wrong, send } = useSend();
  const [from, setFrom] = useState<string>(); // the gauge that sent a reading
  const unit = check.unit ?? 'mm';
  // A gauge that sends fills the next empty station; what it shows in another unit is left to be typed.
  useLive(
    undefined,
    (run.view?.tools ?? []).filter((t) => gauges.includes(t.kind)).map((t) => t.tag),
    (note) => {
      const r = note.kind === 'result' ? (note.data as DeviceResult | undefined) : undefined;
      if (!r || r.reading.unit !== unit) return;
      setFrom(r.tag);
      setValues((old) => {
        const next = Array.from({ length: n }, (_, i) => old[i] ?? '');
        const at = next.findIndex((v) => v.trim() === '');
        if (at >= 0) next[at] = String(r.reading.value);
        return next;
      });
    },
    () => undefined,
  );
  const first = useRef<HTMLInputElement>(null);
  useEffect(() => first.current?.focus({ preventScroll: true }), []);
  function keep() {
    const readings: Reading[] = [];
    for (let i = 0; i < n; i++) {
      const text = values[i] ?? '';
      if (text.trim() === '') {
        throw new Error(`${nameOf(i)} has no reading. Enter it${check.unit ? ` in ${unitText(check.unit)}` : ''}.`);
      }
      const reading = readingOf(text, check.unit ?? '');
      if (!reading) {
        throw new Error(`${nameOf(i)}: ${typedAs(text, check.unit ?? '').wrong}`);
      }
      readings.push(reading);
    }
    onAnswer({ values: readings, ...(from ? { device: from } : {}) });
  }
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        send(keep);
      }}
    >
      {counts.length > 1 && (
        <div className="row-btns">
          {counts.map((c) => (
            <button key={c} type="button" className={`btn sm${c === n ? ' on' : ''}`} onClick={() => setN(c)}>
              {c} stations
            </button>
          ))}
        </div>
      )}
      {state.atTemperature && (
        <p className="at-temp">
          At {num(state.atTemperature.celsius, 1)} °C that is{' '}
          <b>
            {num(state.atTemperature.low, 2)} to {num(state.atTemperature.high, 2)} {unitText(unit)}
          </b>
        </p>
      )}
      <div className="stations">
        {Array.from({ length: n }, (_, i) => {
          const name = nameOf(i);
          return (
            <label key={name}>
              {name}
              {check.unit ? `, ${unitText(check.unit)}` : ''}
              <input
                ref={i === 0 ? first : undefined}
                inputMode="decimal"
                value={values[i] ?? ''}
                onChange={(e) => {
                  const next = [...values];
                  next[i] = e.target.value;
                  setValues(next);
                }}
              />
            </label>
          );
        })}
      </div>
      {from && <p className="dim">{from} sends what it measures; any field can be typed over.</p>}
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
      <button type="submit" className="btn now wide">
        Keep the readings
      </button>
      <p className="dim" style={{ marginTop: 6 }}>
        {limitText(check)}
        {check.limitFrom ? `, from ${check.limitFrom}` : ''}.{check.exception ? ` ${check.exception}` : ''}
      </p>
      {state.history && state.history.length > 1 && (
        <p className="dim">
          Before: <span className="m">{state.history.map((h) => num(h, 2)).join(' → ')}</span>
          {check.unit ? ` ${unitText(check.unit)}` : ''}
        </p>
      )}
      {state.working && <WorkingSheet workings={[state.working]} />}
    </form>
  );
}
