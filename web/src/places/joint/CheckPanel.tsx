import { Select, TextInput } from '@mantine/core';
import { useEffect, useRef, useState } from 'react';
import type { CheckState, Plan, ProcedureCheck, Reading, RunEvent, Wrench } from '../../api/client';
import { keepPhoto, type LocalRun, type RunStore } from '../../api/outbox';
import { fitted } from '../../api/photo';
import { useSession } from '../../api/session';
import { Findings } from '../../kit/Findings';
import { num, unitText, when } from '../../kit/numbers';
import { ReasonDialog } from '../../kit/ReasonDialog';
import type { SignRequest } from '../../kit/SignDialog';
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
  const plan = run.view?.plan;
  const store = run.store;
  if (!plan || !store || !person || run.view?.record) return <Answered check={check} state={state} />;
  const answer = (e: Partial<RunEvent>) => {
    void store.add(person, { kind: 'check_answered', check: check.code, ...e }).then(() => {
      const after = store.get().state?.checks.find((c) => c.code === check.code);
      setAgain(false);
      if (after?.status === 'cleared') onAnswered();
    });
  };
  const deviation = run.state?.deviations.find((d) => d.code === `raised:${check.code}` && d.status === 'open');
  const settled = state.status === 'cleared' || state.status === 'by_leave';
  const stopped = state.status === 'stopped';
  return (
    <div>
      {stopped && <div className="stripe" style={{ margin: '8px -14px 0' }} />}
      <h2 className={stopped ? 'hd2' : ''} style={stopped ? undefined : { font: '700 28px/1.05 var(--cond)', marginTop: 12 }}>
        {stopped ? (state.findings[0]?.what ?? check.title) : check.title}
      </h2>
      {check.caution && !settled && (
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
            onClick={() => answer({ answer: plan.lubricant.code, note: 'cleaned off and done again' })}
          >
            Cleaned off, {plan.lubricant.name} is on
          </button>
          <p>Thread and nut face of every bolt. Or an engineer makes a plan with {state.mismatch.foundName} in Read.</p>
        </div>
      )}
      {settled && !again ? (
        <>
          <Answered check={check} state={state} />
          <button type="button" className="btn sm" style={{ marginTop: 10 }} onClick={() => setAgain(true)}>
            Answer again
          </button>
        </>
      ) : state.status === 'to_sign' ? (
        <div className="way">
          <p className="ask">
            {state.by} answered: {state.text}. {check.twoPerson ? 'A second person looks and signs.' : 'It waits for a signature.'}
          </p>
          <button
            type="button"
            className="btn now wide"
            onClick={() =>
              onSign({
                title: `Sign the hold: ${check.title}`,
                text: `${check.ask} ${check.twoPerson ? `${state.by} answered; someone else must sign.` : ''}`,
                purpose: 'hold',
                check: check.code,
                ...(check.twoPerson ? { only: (p: { name: string }) => p.name !== state.by } : {}),
              })
            }
          >
            Sign the hold
          </button>
          <button type="button" className="btn plain" onClick={() => answer({ answer: 'no' })}>
            It is not so
          </button>
        </div>
      ) : state.mismatch && !again ? (
        <button type="button" className="btn plain" onClick={() => setAgain(true)}>
          Answer otherwise
        </button>
      ) : (
        <>
          <p className="ask">{check.ask}</p>
          {check.sketch && <Sketch name={check.sketch} plan={plan} />}
          <AnswerForm
            check={check}
            state={state}
            plan={plan}
            run={run}
            onAnswer={answer}
            onTake={(w) => void store.add(person, { kind: 'wrench_taken', wrench: w }).then(onAnswered)}
          />
          <p className="dim" style={{ marginTop: 10 }}>
            <b>Why:</b> {check.why}
          </p>
        </>
      )}
      {stopped && (
        <div className="way">
          {deviation ? (
            <>
              <p>Raised as a departure: {deviation.what}. It waits for an engineer or inspector.</p>
              <button
                type="button"
                className="btn wide"
                onClick={() =>
                  onSign({
                    title: 'Accept the departure',
                    text: deviation.what,
                    purpose: 'deviation',
                    ref: deviation.id,
                    needsReason: 'Why it may stay',
                    only: (p) => p.role !== 'technician',
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
                  Raise a departure
                </button>
                <p>Stays on the record. An engineer or inspector must accept it with a reason.</p>
              </>
            )
          )}
        </div>
      )}
      {!settled && !check.hold && check.kind === 'confirm' && state.status !== 'to_sign' && (
        <button type="button" className="btn plain" onClick={() => setAsking('na')}>
          Does not apply here
        </button>
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
        title={asking === 'na' ? 'Does not apply' : 'Raise a departure'}
        text={asking === 'na' ? 'Say why, it stands on the record.' : `${check.title}: what stays as it is, and why?`}
        verb={asking === 'na' ? 'Keep' : 'Raise it'}
        onClose={() => setAsking(undefined)}
        onDone={(reason) => {
          if (asking === 'na') answer({ answer: 'na', reason });
          else void store.add(person, { kind: 'deviation_raised', check: check.code, reason });
        }}
      />
    </div>
  );
}

function Answered({ check, state }: { check: ProcedureCheck; state: CheckState }) {
  return (
    <div style={{ marginTop: 8 }}>
      <p className="ask">{state.text || 'not answered'}</p>
      <p className="dim">
        {state.by}
        {state.at ? `, ${when(state.at)}` : ''}
        {state.signedBy ? `; signed ${state.signedBy}` : ''}
        {state.status === 'by_leave' ? '; by leave' : ''}
      </p>
      <p className="dim" style={{ marginTop: 8 }}>
        {check.ask}
      </p>
    </div>
  );
}

function MismatchView({ m }: { m: NonNullable<CheckState['mismatch']> }) {
  const end = Math.max(m.plannedKN, m.foundKN) * 1.18;
  const x = (v: number) => (v / end) * 352;
  const over = m.foundKN > m.plannedKN;
  return (
    <>
      <table className="t" style={{ margin: '8px 0' }}>
        <thead>
          <tr>
            <th>
              <span className="sr">Which</span>
            </th>
            <th>Lubricant</th>
            <th className="n">K</th>
          </tr>
        </thead>
        <tbody>
          <tr>
            <td>Plan</td>
            <td>{m.plannedName}</td>
            <td className="n">{num(m.plannedK, 3)}</td>
          </tr>
          <tr>
            <td>Found</td>
            <td>
              <b>{m.foundName}</b>
            </td>
            <td className="n hld">{num(m.foundK, 3)}</td>
          </tr>
        </tbody>
      </table>
      <p style={{ fontSize: 17, lineHeight: 1.3 }}>
        <b>{m.sentence}</b>
      </p>
      <svg
        viewBox="0 0 352 116"
        width="100%"
        style={{ maxWidth: 352, overflow: 'visible', marginTop: 6 }}
        role="img"
        aria-label={m.sentence}
      >
        <path d={`M${x(m.plannedKN)} 2V96`} style={{ stroke: 'var(--ok)', strokeWidth: 1.5 }} />
        <text y="16" style={{ font: '600 14px var(--text)', fill: 'var(--ink-2)' }}>
          as planned
        </text>
        <rect y="22" width={x(m.plannedKN)} height="16" style={{ fill: 'var(--ink)' }} />
        <text y="60" style={{ font: '600 14px var(--text)', fill: 'var(--ink-2)' }}>
          as found
        </text>
        <path
          d={over ? `M0 66H${x(m.foundKN) - 9}l9 8l-9 8H0Z` : `M0 66H${x(m.foundKN)}l-8 8l8 8H0Z`}
          style={{ fill: over ? 'url(#hRej)' : 'url(#hHold)', stroke: over ? 'var(--rej)' : 'var(--hold-edge)', strokeWidth: 1.2 }}
        />
        <text x={x(m.foundKN)} y="112" textAnchor="middle" style={{ font: '700 15px var(--mono)', fill: 'var(--hold-ink)' }}>
          {num(m.foundKN, 0)}
        </text>
        <text
          x={x(m.plannedKN) + (over ? -6 : 6)}
          y="112"
          textAnchor={over ? 'end' : 'start'}
          style={{ font: '700 15px var(--mono)', fill: 'var(--ink)' }}
        >
          {Math.abs(x(m.foundKN) - x(m.plannedKN)) > 34 ? `${num(m.plannedKN, 0)} kN` : ''}
        </text>
      </svg>
      <p className="dim">
        A plan with {m.foundName} would be about <span className="m">{num(m.restoringNm, 0)}</span> N·m; an engineer makes it in Read.
      </p>
    </>
  );
}

interface FormProps {
  check: ProcedureCheck;
  state: CheckState;
  plan: Plan;
  run: LocalRun;
  onAnswer: (e: Partial<RunEvent>) => void;
  onTake: (w: Wrench) => void;
}

function AnswerForm({ check, state, plan, run, onAnswer, onTake }: FormProps) {
  switch (check.kind) {
    case 'measure':
      return <MeasureForm check={check} state={state} onAnswer={onAnswer} />;
    case 'lubricant':
      return <LubricantForm plan={plan} onAnswer={onAnswer} />;
    case 'parts':
      return <PartsForm plan={plan} onAnswer={onAnswer} />;
    case 'wrench':
      return <WrenchForm plan={plan} run={run} onTake={onTake} />;
    case 'condition':
      return <ConditionForm check={check} run={run} onAnswer={onAnswer} />;
  }
  return (
    <>
      <Methods check={check} />
      <div className="answers">
        <button type="button" className="btn now" onClick={() => onAnswer({ answer: 'yes' })}>
          Yes, it is so
        </button>
        <button type="button" className="btn" onClick={() => onAnswer({ answer: 'no' })}>
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

function ConditionForm({ check, run, onAnswer }: { check: ProcedureCheck; run: LocalRun; onAnswer: (e: Partial<RunEvent>) => void }) {
  const [kind, setKind] = useState<string>();
  const [note, setNote] = useState('');
  const [photo, setPhoto] = useState<Blob>();
  const [wrong, setWrong] = useState('');
  async function keep() {
    if (!photo || !note.trim()) {
      setWrong('A photo and a few words are needed, so that the next person sees what you saw.');
      return;
    }
    let small: Blob;
    try {
      small = await fitted(photo);
    } catch {
      setWrong('That file is not a picture. Take a photo, or choose a JPEG or PNG.');
      return;
    }
    const id = run.view ? await keepPhoto(run.view.id, small) : '';
    onAnswer({ answer: kind, note: note.trim(), photo: id });
  }
  return (
    <>
      <Methods check={check} />
      <div className="answers">
        <button type="button" className="btn now" onClick={() => onAnswer({ answer: 'accept' })}>
          Accept
        </button>
        <button type="button" className={`btn${kind === 'repair' ? ' on' : ''}`} onClick={() => setKind('repair')}>
          Repair
        </button>
        <button type="button" className={`btn${kind === 'replace' ? ' on' : ''}`} onClick={() => setKind('replace')}>
          Replace
        </button>
      </div>
      {kind && (
        <div style={{ display: 'grid', gap: 8, marginTop: 10 }}>
          <TextInput label="What is wrong, and where" value={note} onChange={(e) => setNote(e.currentTarget.value)} maxLength={300} />
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
          <button type="button" className="btn wide" onClick={() => void keep()}>
            Keep: to {kind}
          </button>
        </div>
      )}
    </>
  );
}

const clockNames = ['12 o’clock', '3 o’clock', '6 o’clock', '9 o’clock'];

export function MeasureForm({
  check,
  state,
  onAnswer,
}: {
  check: ProcedureCheck;
  state: CheckState;
  onAnswer: (e: Partial<RunEvent>) => void;
}) {
  const counts = check.stations ?? [4];
  const [n, setN] = useState(state.values?.length || counts[counts.length - 1] || 4);
  const [values, setValues] = useState<string[]>([]);
  const [wrong, setWrong] = useState('');
  const first = useRef<HTMLInputElement>(null);
  useEffect(() => first.current?.focus({ preventScroll: true }), []);
  function keep() {
    const readings: Reading[] = [];
    for (let i = 0; i < n; i++) {
      const text = (values[i] ?? '').trim().replace(',', '.').replace('−', '-');
      const v = Number(text);
      if (text === '' || !Number.isFinite(v)) {
        setWrong(`Station ${n === 4 ? clockNames[i] : String.fromCharCode(97 + i)} has no reading. Enter it in mm.`);
        return;
      }
      readings.push({ value: v, unit: check.unit ?? 'mm', si: v, text });
    }
    setWrong('');
    onAnswer({ values: readings });
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
          const name = n === 4 ? (clockNames[i] ?? '') : `${String.fromCharCode(97 + i)}${i === 0 ? ', top' : ''}`;
          return (
            <label key={name}>
              {name}, {unitText(check.unit ?? 'mm')}
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
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
      <button type="submit" className="btn now wide">
        Keep the readings
      </button>
      <p className="dim" style={{ marginTop: 6 }}>
        Limit {num(check.limit ?? 0, 2)} {unitText(check.unit ?? 'mm')}, from {check.limitFrom}.
      </p>
    </form>
  );
}

function LubricantForm({ plan, onAnswer }: { plan: Plan; onAnswer: (e: Partial<RunEvent>) => void }) {
  const [code, setCode] = useState<string | null>(null);
  const [product, setProduct] = useState('');
  const [batch, setBatch] = useState('');
  const [expiry, setExpiry] = useState('');
  const other = code !== null && code !== plan.lubricant.code;
  const fields = { product, batch, expiry };
  return (
    <>
      <p className="dim">
        The plan holds for <b>{plan.lubricant.name}</b>. Look at the tin, do not assume.
      </p>
      <div className="fields" style={{ margin: '8px 0' }}>
        <TextInput label="Tin or product" value={product} onChange={(e) => setProduct(e.currentTarget.value)} maxLength={60} />
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
          <button type="button" className="btn now" onClick={() => onAnswer({ answer: plan.lubricant.code, ...fields })}>
            {plan.lubricant.name} it is
          </button>
        )}
      </div>
    </>
  );
}

const partStates = ['present', 'missing', 'rejected', 'substituted'];

function PartsForm({ plan, onAnswer }: { plan: Plan; onAnswer: (e: Partial<RunEvent>) => void }) {
  const [found, setFound] = useState<Record<string, string>>({});
  const quantity = (p: Plan['parts'][number]) => (p.perBolt ? p.quantity * plan.specification.bolts : p.quantity);
  const name = (code: string, text: string) => {
    const s = plan.specification;
    if (code === 'bolt') return `${text} ${s.thread} ${s.material}${s.lengthMm ? ` × ${num(s.lengthMm)}` : ''}`;
    if (code === 'gasket') return s.gasket ? `${text} ${s.gasket}` : text;
    return `${text} ${s.thread}`;
  };
  const missing = plan.parts.filter((p) => !found[p.code]);
  return (
    <>
      <table className="t">
        <tbody>
          {plan.parts.map((p) => (
            <tr key={p.code}>
              <td>
                <b>{name(p.code, p.name)}</b>
                <div className="dim" style={{ fontSize: 14 }}>
                  {p.function}; compare {p.match}
                </div>
              </td>
              <td className="n">{quantity(p)}</td>
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
        </tbody>
      </table>
      <div className="answers">
        {missing.length > 0 ? (
          <button
            type="button"
            className="btn now"
            onClick={() => setFound(Object.fromEntries(plan.parts.map((p) => [p.code, found[p.code] || 'present'])))}
          >
            The rest is present
          </button>
        ) : (
          <button
            type="button"
            className="btn now"
            onClick={() => onAnswer({ parts: plan.parts.map((p) => ({ code: p.code, state: found[p.code] ?? '' })) })}
          >
            Keep the list
          </button>
        )}
      </div>
    </>
  );
}

export function WrenchForm({ plan, run, onTake }: { plan: Plan; run: LocalRun; onTake: (w: Wrench) => void }) {
  const list = run.view?.wrenches ?? [];
  const [tag, setTag] = useState<string | null>(plan.wrench?.tag ?? null);
  const [scan, setScan] = useState('');
  const w = list.find((x) => x.tag === tag);
  const judged = plan.wrenches.find((x) => x.tag === tag);
  return (
    <>
      <div className="fields" style={{ margin: '8px 0' }}>
        <Select label="Wrench in your hand" value={tag} onChange={setTag} searchable data={list.map((x) => x.tag)} />
        <TextInput
          label="Or scan its label"
          value={scan}
          onChange={(e) => {
            const v = e.currentTarget.value.trim().toUpperCase();
            setScan(v);
            const hit = list.find((x) => x.tag.toUpperCase() === v);
            if (hit) setTag(hit.tag);
          }}
        />
      </div>
      {w && (
        <table className="t">
          <tbody>
            <tr>
              <td>Range</td>
              <td className="n">
                {num(w.ratedMin)} to {num(w.ratedMax)} {unitText(w.unit)}
              </td>
            </tr>
            <tr>
              <td>One mark</td>
              <td className="n">
                {num(w.graduation)} {unitText(w.unit)}
              </td>
            </tr>
            <tr>
              <td>Certificate {w.certificate}</td>
              <td className="n">to {w.calibrationEnds}</td>
            </tr>
            <tr>
              <td>Lock</td>
              <td>{w.lock}</td>
            </tr>
          </tbody>
        </table>
      )}
      {judged && !judged.usable && <Findings list={judged.problems.map((p) => ({ severity: 'stop' as const, code: p, what: `${p}.` }))} />}
      <div className="answers">
        <button type="button" className="btn now" disabled={!w} onClick={() => w && onTake(w)}>
          Take {tag}
        </button>
      </div>
    </>
  );
}
