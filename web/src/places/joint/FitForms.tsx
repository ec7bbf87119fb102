import { Select, TextInput } from '@mantine/core';
import { useState } from 'react';
import type { CheckState, ProcedureCheck, RunEvent } from '../../api/client';
import { keepPhoto } from '../../api/device';
import { type KeptPhoto, NotKept } from '../../api/outbox';
import { fitted } from '../../api/photo';
import type { LocalRun } from '../../api/runStore';
import { figureIn, readingOf, useSend } from '../../kit/figures';
import { num, unitText, wholeOf } from '../../kit/numbers';
import { useHold } from '../../kit/question';
import { polar, sector } from '../../rosette/geometry';

type Answer = (e: Partial<RunEvent>) => void;

/** A button that takes a picture and then answers. */
export function PhotoAnswer({
  run,
  verb,
  onPhoto,
}: {
  run: LocalRun;
  verb: string;
  onPhoto: (photo: KeptPhoto) => void;
}) {
  const [wrong, setWrong] = useState('');
  const hold = useHold();
  async function take(file: File | null | undefined) {
    if (!file || !run.view) return;
    try {
      onPhoto(await keepPhoto(run.view.id, await fitted(file)));
    } catch (e) {
      setWrong(e instanceof NotKept ? e.message : 'That file is not a picture. Take a photo, or choose a JPEG or PNG.');
    }
  }
  return (
    <label className="btn now">
      {verb}
      <input
        type="file"
        accept="image/jpeg,image/png,image/webp"
        capture="environment"
        className="sr"
        onChange={(e) => hold(take(e.target.files?.[0]))}
      />
      {wrong && <span className="wrong">{wrong}</span>}
    </label>
  );
}

/** Which way a part faces: nothing is filled in beforehand, and both answers are equally near. */
export function OrientationForm({ check, onAnswer }: { check: ProcedureCheck; onAnswer: Answer }) {
  return (
    <>
      <p className="expect">
        <span className="lab">Must be</span>
        <b>{check.expect}</b>
      </p>
      <div className="answers even">
        <button type="button" className="btn" onClick={() => onAnswer({ answer: 'yes' })}>
          I looked: it is so
        </button>
        <button type="button" className="btn" onClick={() => onAnswer({ answer: 'no' })}>
          It is not so
        </button>
      </div>
    </>
  );
}

/** Marks read off the parts, pair by pair. The core compares them. */
export function MatchForm({ check, state, onAnswer }: { check: ProcedureCheck; state: CheckState; onAnswer: Answer }) {
  const pairs = check.pairs ?? [];
  const [v, setV] = useState<Record<string, [string, string]>>(
    Object.fromEntries((state.marks ?? []).map((m) => [m.code, [m.a, m.b]])),
  );
  const set = (code: string, i: 0 | 1, text: string) => {
    const old = v[code] ?? ['', ''];
    setV({ ...v, [code]: i === 0 ? [text, old[1]] : [old[0], text] });
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        onAnswer({ marks: pairs.map((p) => ({ code: p.code, a: v[p.code]?.[0] ?? '', b: v[p.code]?.[1] ?? '' })) });
      }}
    >
      {pairs.map((p) => (
        <div key={p.code} className="pair">
          <TextInput
            label={p.a}
            value={v[p.code]?.[0] ?? ''}
            onChange={(e) => set(p.code, 0, e.currentTarget.value)}
            maxLength={40}
          />
          <span className="sign" aria-hidden="true">
            {p.phaseDeg ? '½' : '='}
          </span>
          {p.b && (
            <TextInput
              label={p.b}
              value={v[p.code]?.[1] ?? ''}
              onChange={(e) => set(p.code, 1, e.currentTarget.value)}
              maxLength={40}
            />
          )}
          {p.expect && <span className="dim">must read {p.expect}</span>}
          {p.phaseDeg ? <span className="dim">same mark, {num(p.phaseDeg / 360, 2)} turn apart</span> : null}
        </div>
      ))}
      <button type="submit" className="btn now wide">
        Compare and keep
      </button>
    </form>
  );
}

/** Parts that go in one after another: only the next one can be ticked. */
export function SequenceForm({ check, onAnswer }: { check: ProcedureCheck; onAnswer: Answer }) {
  const items = check.items ?? [];
  const [done, setDone] = useState(0);
  return (
    <>
      {check.limitFrom && <p className="dim">The order of {check.limitFrom}.</p>}
      <ol className="seq">
        {items.map((it, i) => (
          <li key={it} className={i < done ? 'in' : i === done ? 'next' : ''}>
            <button
              type="button"
              className={`btn${i === done ? ' now' : ''}`}
              disabled={i > done}
              aria-pressed={i < done}
              onClick={() => setDone(i < done ? i : i + 1)}
            >
              {i < done ? '✓ ' : ''}
              {it}
            </button>
          </li>
        ))}
      </ol>
      <button
        type="button"
        className={`btn wide${done === items.length ? ' now' : ''}`}
        disabled={done < items.length}
        onClick={() => onAnswer({ items })}
      >
        All in, in this order
      </button>
    </>
  );
}

const hourDeg = (h: number) => (h % 12) * 30;

/** An hour on the clock face, touched on the drawing or typed. */
export function ClockForm({ check, state, onAnswer }: { check: ProcedureCheck; state: CheckState; onAnswer: Answer }) {
  const [hour, setHour] = useState<number | undefined>(state.values?.[0]);
  const from = hourDeg(check.fromHour ?? 12);
  const to = hourDeg(check.toHour ?? 12);
  return (
    <div>
      <svg
        viewBox="-110 -110 220 220"
        width="240"
        role="img"
        aria-label={`Allowed from ${check.fromHour} to ${check.toHour} o’clock`}
      >
        <circle r="92" style={{ fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.6 }} />
        <path
          d={sector(58, 90, from, to > from ? to : to + 360)}
          style={{ fill: 'var(--ok-wash)', stroke: 'var(--ok)', strokeWidth: 1 }}
        />
        {hour !== undefined && (
          <path d="M0 0V-70" transform={`rotate(${hourDeg(hour)})`} style={{ stroke: 'var(--ink)', strokeWidth: 5 }} />
        )}
        {Array.from({ length: 12 }, (_, i) => {
          const h = i === 0 ? 12 : i;
          const [x, y] = polar(74, i * 30);
          return (
            // biome-ignore lint/a11y/noStaticElementInteractions: the buttons below are the way by keyboard
            <g key={h} onClick={() => setHour(h)} style={{ cursor: 'pointer' }}>
              <circle cx={x} cy={y} r="17" style={{ fill: h === hour ? 'var(--ink)' : 'transparent' }} />
              <text
                x={x}
                y={y + 6}
                textAnchor="middle"
                style={{ font: '700 16px var(--mono)', fill: h === hour ? 'var(--film)' : 'var(--ink)' }}
              >
                {h}
              </text>
            </g>
          );
        })}
      </svg>
      <Select
        label="Hour"
        value={hour === undefined ? null : String(hour)}
        onChange={(v) => v && setHour(wholeOf(v))}
        data={Array.from({ length: 24 }, (_, i) => String((i + 1) / 2))}
        searchable
      />
      <p className="dim">
        Allowed from {check.fromHour} to {check.toHour} o’clock, clockwise.
      </p>
      <button
        type="button"
        className="btn now wide"
        disabled={hour === undefined}
        onClick={() => onAnswer({ values: [{ value: hour ?? 0, unit: '', si: hour ?? 0, text: String(hour) }] })}
      >
        Keep {hour ? `${num(hour, 1)} o’clock` : 'the hour'}
      </button>
    </div>
  );
}

/** A thing that is put in for the work and must come out again. */
export function TemporaryForm({ check, onAnswer }: { check: ProcedureCheck; onAnswer: Answer }) {
  const wantIn = check.want === 'in';
  return (
    <div className="answers even">
      <button type="button" className={`btn${wantIn ? ' now' : ''}`} onClick={() => onAnswer({ answer: 'in' })}>
        {check.item} is in
      </button>
      <button type="button" className={`btn${wantIn ? '' : ' now'}`} onClick={() => onAnswer({ answer: 'out' })}>
        {check.item} is out
      </button>
    </div>
  );
}

/** A test: to which procedure, what was read, how long, and whether it was passed. */
export function TestForm({ check, onAnswer }: { check: ProcedureCheck; onAnswer: Answer }) {
  const [method, setMethod] = useState('');
  const [reading, setReading] = useState('');
  const [minutes, setMinutes] = useState('');
  const { wrong, send } = useSend();
  function keep(answer: string) {
    if (!method.trim()) {
      throw new Error('Enter the number of the procedure that was followed.');
    }
    const read = reading.trim() ? readingOf(reading, check.unit ?? '') : undefined;
    figureIn(reading, check.unit ?? ''); // says what is wrong with it
    const took = figureIn(minutes, '');
    if (answer === 'yes' && !(read && read.value > 0)) {
      throw new Error('Enter what the gauge showed: a test without a reading above nothing proves nothing.');
    }
    if (answer === 'yes' && !(took && took > 0)) {
      throw new Error('Enter how many minutes it was held.');
    }
    onAnswer({
      answer,
      method: method.trim(),
      ...(read ? { values: [read] } : {}),
      ...(took === undefined ? {} : { minutes: took }),
    });
  }
  return (
    <>
      <div className="fields" style={{ margin: '8px 0' }}>
        <TextInput
          label="Test procedure"
          placeholder="number of the procedure"
          value={method}
          onChange={(e) => setMethod(e.currentTarget.value)}
          maxLength={60}
        />
        {check.unit && (
          <TextInput
            label={`Reading, ${unitText(check.unit)}`}
            description={check.low ? `at least ${num(check.low)}` : undefined}
            inputMode="decimal"
            value={reading}
            onChange={(e) => setReading(e.currentTarget.value)}
          />
        )}
        <TextInput
          label="Duration, minutes"
          inputMode="decimal"
          value={minutes}
          onChange={(e) => setMinutes(e.currentTarget.value)}
        />
      </div>
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
      <div className="answers">
        <button type="button" className="btn now" onClick={() => send(() => keep('yes'))}>
          Passed
        </button>
        <button type="button" className="btn" onClick={() => send(() => keep('no'))}>
          Not passed
        </button>
      </div>
    </>
  );
}

/** A choice that the instructions leave open, and who answers for it. */
export function ResponsibleForm({ check, onAnswer }: { check: ProcedureCheck; onAnswer: Answer }) {
  const [way, setWay] = useState<string | null>(null);
  const [who, setWho] = useState('');
  const [note, setNote] = useState('');
  return (
    <>
      <div className="fields" style={{ margin: '8px 0' }}>
        <Select label="What was chosen" value={way} onChange={setWay} data={check.ways ?? []} />
        <TextInput
          label="Who answers for it"
          value={who}
          onChange={(e) => setWho(e.currentTarget.value)}
          maxLength={80}
        />
        <TextInput
          label="Type, approval"
          value={note}
          onChange={(e) => setNote(e.currentTarget.value)}
          maxLength={120}
        />
      </div>
      <button
        type="button"
        className="btn now wide"
        disabled={!way || !who.trim()}
        onClick={() => onAnswer({ answer: way ?? '', who: who.trim(), ...(note.trim() ? { note: note.trim() } : {}) })}
      >
        Keep it
      </button>
    </>
  );
}
