import { Select, TextInput } from '@mantine/core';
import { useEffect, useRef, useState } from 'react';
import type { CheckState, DeviceResult, Plan, ProcedureCheck, Reading, RunEvent } from '../../api/client';
import { keepPhoto } from '../../api/device';
import { useLive } from '../../api/live';
import { type KeptPhoto, NotKept } from '../../api/outbox';
import { fitted } from '../../api/photo';
import type { LocalRun } from '../../api/runStore';
import { readingOf, typedAs } from '../../kit/figures';
import { num, unitText } from '../../kit/numbers';
import { useHold } from '../../kit/question';
import { groupOf } from '../../rosette/GroupRosette';
import {
  ClockForm,
  MatchForm,
  OrientationForm,
  PhotoAnswer,
  ResponsibleForm,
  SequenceForm,
  TemporaryForm,
  TestForm,
} from './FitForms';
import { limitText } from './limits';
import { type Take, ToolsForm } from './ToolsForm';

interface FormProps {
  check: ProcedureCheck;
  state: CheckState;
  plan: Plan;
  run: LocalRun;
  onAnswer: (e: Partial<RunEvent>) => void;
  onTake: Take;
}

export function AnswerForm({ check, state, plan, run, onAnswer, onTake }: FormProps) {
  switch (check.kind) {
    case 'measure':
      return <MeasureForm check={check} state={state} run={run} onAnswer={onAnswer} />;
    case 'lubricant':
      return <LubricantForm check={check} plan={plan} onAnswer={onAnswer} />;
    case 'orientation':
      return <OrientationForm check={check} onAnswer={onAnswer} />;
    case 'match':
      return <MatchForm check={check} state={state} onAnswer={onAnswer} />;
    case 'sequence':
      return <SequenceForm check={check} onAnswer={onAnswer} />;
    case 'clock':
      return <ClockForm check={check} state={state} onAnswer={onAnswer} />;
    case 'temporary':
      return <TemporaryForm check={check} onAnswer={onAnswer} />;
    case 'test':
      return <TestForm check={check} onAnswer={onAnswer} />;
    case 'responsible':
      return <ResponsibleForm check={check} onAnswer={onAnswer} />;
    case 'parts':
      return <PartsForm plan={plan} onAnswer={onAnswer} />;
    case 'wrench':
      return <ToolsForm plan={plan} run={run} group={check.fasteners} onTake={onTake} />;
    case 'condition':
      return <ConditionForm check={check} run={run} onAnswer={onAnswer} />;
  }
  return <ConfirmForm check={check} run={run} onAnswer={onAnswer} />;
}

/** Yes or no; with the way it was done where some ways are forbidden, and with a photo where the procedure asks for one. */
function ConfirmForm({
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
  const how = method ? { method } : {};
  return (
    <>
      <Methods check={check} />
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

function Methods({ check }: { check: ProcedureCheck }) {
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

function ConditionForm({
  check,
  run,
  onAnswer,
}: {
  check: ProcedureCheck;
  run: LocalRun;
  onAnswer: (e: Partial<RunEvent>) => void;
}) {
  const [kind, setKind] = useState<string>();
  const [note, setNote] = useState('');
  const [photo, setPhoto] = useState<Blob>();
  const [wrong, setWrong] = useState('');
  const hold = useHold();
  async function keep() {
    if (!photo || !note.trim()) {
      setWrong('A photo and a few words are needed, so that the next person sees what you saw.');
      return;
    }
    let kept: Partial<KeptPhoto> = {};
    try {
      const small = await fitted(photo);
      if (run.view) kept = await keepPhoto(run.view.id, small);
    } catch (e) {
      setWrong(e instanceof NotKept ? e.message : 'That file is not a picture. Take a photo, or choose a JPEG or PNG.');
      return;
    }
    onAnswer({ answer: kind, note: note.trim(), ...kept });
  }
  return (
    <>
      <Methods check={check} />
      <div className="answers">
        {check.photo ? (
          <PhotoAnswer
            run={run}
            verb="Accept, with a photo"
            onPhoto={(photo) => onAnswer({ answer: 'accept', ...photo })}
          />
        ) : (
          <button type="button" className="btn now" onClick={() => onAnswer({ answer: 'accept' })}>
            Accept
          </button>
        )}
        <button type="button" className={`btn${kind === 'repair' ? ' on' : ''}`} onClick={() => setKind('repair')}>
          Repair
        </button>
        <button type="button" className={`btn${kind === 'replace' ? ' on' : ''}`} onClick={() => setKind('replace')}>
          Replace
        </button>
      </div>
      {kind && (
        <div style={{ display: 'grid', gap: 8, marginTop: 10 }}>
          <TextInput
            label="What is wrong, and where"
            value={note}
            onChange={(e) => setNote(e.currentTarget.value)}
            maxLength={300}
          />
          <label className="btn" style={{ height: 56 }}>
            {photo ? 'Photo taken, take another' : 'Take a photo'}
            <input
              type="file"
              accept="image/jpeg,image/png,image/webp"
              capture="environment"
              className="sr"
              onChange={(e) => setPhoto(e.target.files?.[0] ?? undefined)}
            />
          </label>
          {wrong && <p className="wrong">{wrong}</p>}
          <button type="button" className="btn wide" onClick={() => hold(keep())}>
            Keep: to {kind}
          </button>
        </div>
      )}
    </>
  );
}

const clockNames = ['12 o’clock', '3 o’clock', '6 o’clock', '9 o’clock'];

export const gauges = ['caliper', 'depth_gauge', 'feelers', 'dial_indicator', 'stretch_gauge'];

function MeasureForm({
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
  const [wrong, setWrong] = useState('');
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
        setWrong(`${nameOf(i)} has no reading. Enter it${check.unit ? ` in ${unitText(check.unit)}` : ''}.`);
        return;
      }
      const reading = readingOf(text, check.unit ?? '');
      if (!reading) {
        setWrong(`${nameOf(i)}: ${typedAs(text, check.unit ?? '').wrong}`);
        return;
      }
      readings.push(reading);
    }
    setWrong('');
    onAnswer({ values: readings, ...(from ? { device: from } : {}) });
  }
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        keep();
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
    </form>
  );
}

function LubricantForm({
  check,
  plan,
  onAnswer,
}: {
  check: ProcedureCheck;
  plan: Plan;
  onAnswer: (e: Partial<RunEvent>) => void;
}) {
  const planned = groupOf(plan, check.fasteners).lubricant;
  const [code, setCode] = useState<string | null>(null);
  const [product, setProduct] = useState('');
  const [batch, setBatch] = useState('');
  const [expiry, setExpiry] = useState('');
  const other = code !== null && code !== planned.code;
  const fields = { product, batch, expiry };
  return (
    <>
      <p className="dim">
        The plan holds for <b>{planned.name}</b>. Look at the tin, do not assume.
      </p>
      <div className="fields" style={{ margin: '8px 0' }}>
        <TextInput
          label="Tin or product"
          value={product}
          onChange={(e) => setProduct(e.currentTarget.value)}
          maxLength={60}
        />
        <TextInput label="Batch" value={batch} onChange={(e) => setBatch(e.currentTarget.value)} maxLength={40} />
        <TextInput label="Use by" type="date" value={expiry} onChange={(e) => setExpiry(e.currentTarget.value)} />
      </div>
      <Select
        label="Something else was found"
        placeholder="choose what is on the bench"
        value={code}
        onChange={setCode}
        clearable
        searchable
        data={plan.lubricantCards.map((l) => ({ value: l.code, label: l.name }))}
      />
      <div className="answers" style={{ gridTemplateColumns: '1fr' }}>
        {other ? (
          <button type="button" className="btn now" onClick={() => onAnswer({ answer: code, ...fields })}>
            {plan.lubricantCards.find((l) => l.code === code)?.name} was found
          </button>
        ) : (
          <button type="button" className="btn now" onClick={() => onAnswer({ answer: planned.code, ...fields })}>
            {planned.name} it is
          </button>
        )}
      </div>
    </>
  );
}

const partStates = ['present', 'missing', 'rejected', 'substituted'];

function PartsForm({ plan, onAnswer }: { plan: Plan; onAnswer: (e: Partial<RunEvent>) => void }) {
  const [found, setFound] = useState<Record<string, string>>({});
  const [marks, setMarks] = useState<Record<string, string>>({});
  const quantity = (p: Plan['parts'][number]) =>
    p.perBolt ? p.quantity * groupOf(plan, p.fasteners).layout.count : p.quantity;
  const name = (p: Plan['parts'][number]) => {
    const s = plan.specification;
    if (p.code === 'gasket') return s.gasket ? `${p.name} ${s.gasket}` : p.name;
    if (!p.perBolt) return p.name;
    const f = [s, ...(s.others ?? [])].find((x) => x.group === p.fasteners) ?? s;
    const thread = f.thread ? ` ${f.thread}` : '';
    return p.code === 'bolt'
      ? `${p.name}${thread} ${f.material}${f.lengthMm ? ` × ${num(f.lengthMm)}` : ''}`
      : `${p.name}${thread}`;
  };
  const missing = plan.parts.filter((p) => !found[p.code]);
  return (
    <>
      <table className="t">
        <tbody>
          {plan.parts.map((p) => (
            <tr key={p.code}>
              <td>
                <b>{name(p)}</b>
                <div className="dim" style={{ fontSize: 14 }}>
                  {p.function}
                  {p.match ? `; compare ${p.match}` : ''}
                </div>
                {p.mark && (
                  <TextInput
                    size="xs"
                    aria-label={`Number of ${p.name}`}
                    placeholder="stamped number or batch"
                    value={marks[p.code] ?? ''}
                    onChange={(e) => setMarks({ ...marks, [p.code]: e.currentTarget.value })}
                    maxLength={60}
                  />
                )}
              </td>
              <td className="n">{num(quantity(p))}</td>
              <td style={{ width: 150 }}>
                <Select
                  aria-label={`${p.name} found`}
                  placeholder="look"
                  value={found[p.code] ?? null}
                  onChange={(v) => setFound({ ...found, [p.code]: v ?? '' })}
                  data={partStates}
                />
              </td>
            </tr>
          ))}
          {(plan.otherParts ?? []).map((p) => (
            <tr key={p.code}>
              <td>
                {p.name}
                <div className="hld" style={{ fontSize: 14 }}>
                  belongs to another variant: must not be here
                </div>
              </td>
              <td />
              <td>
                <Select
                  aria-label={`${p.name} of another variant`}
                  placeholder="not here"
                  clearable
                  value={found[p.code] ?? null}
                  onChange={(v) => setFound({ ...found, [p.code]: v ?? '' })}
                  data={[{ value: 'present', label: 'lies here' }]}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="answers">
        {missing.length > 0 ? (
          <button
            type="button"
            className="btn now"
            onClick={() =>
              setFound({ ...found, ...Object.fromEntries(plan.parts.map((p) => [p.code, found[p.code] || 'present'])) })
            }
          >
            The rest is present
          </button>
        ) : (
          <button
            type="button"
            className="btn now"
            onClick={() =>
              onAnswer({
                parts: [...plan.parts, ...(plan.otherParts ?? [])]
                  .filter((p) => found[p.code])
                  .map((p) => ({
                    code: p.code,
                    state: found[p.code] ?? '',
                    ...(marks[p.code] ? { mark: marks[p.code] } : {}),
                  })),
              })
            }
          >
            Keep the list
          </button>
        )}
      </div>
    </>
  );
}
