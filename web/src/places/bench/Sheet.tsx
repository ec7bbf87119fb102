import { Modal } from '@mantine/core';
import { useClipboard, useDisclosure, useHotkeys } from '@mantine/hooks';
import { getRouteApi, Link, useNavigate, useRouter } from '@tanstack/react-router';
import { useDeferredValue, useEffect, useMemo, useRef, useState } from 'react';
import { useLibrary } from '../../api/client';
import { useSession } from '../../api/session';
import { calculate, type Refusal, type Sheet, useCalc } from '../../core/calc';
import { unitText } from '../../kit/numbers';
import { WorkingSheet } from '../../kit/Working';
import './bench.css';
import { drawings } from './drawings';
import { Figure } from './Figure';
import { InputBox, TableInput } from './Inputs';
import { PutOnJoint } from './PutOnJoint';
import { Results } from './Results';
import { useRecent, type Values, withRecent } from './recent';
import { WhatIf } from './WhatIf';

const route = getRouteApi('/bench/$name');

export function SheetPage() {
  const { name } = route.useParams();
  const all = useCalc();
  if (!all.data)
    return (
      <p className="empty">
        {all.isError ? 'The calculations did not load. Reload when there is signal.' : 'One moment.'}
      </p>
    );
  const sheet = all.data.find((s) => s.name === name);
  if (!sheet) {
    return (
      <p className="empty" role="alert">
        There is no sheet called “{name}”. <Link to="/bench">Look on the bench.</Link>
      </p>
    );
  }
  return <OneSheet key={name} sheet={sheet} />;
}

const fillNames: Record<string, [string, string]> = {
  thread: ['Thread', 'M27 or 1 1/8-8'],
  grade: ['Grade', '8.8, B7'],
  lubricant: ['Lubricant', 'choose a card'],
  lubricant_found: ['Lubricant found', 'choose a card'],
};

/** One calculation: what you set, what follows at once, and why. */
function OneSheet({ sheet }: { sheet: Sheet }) {
  const search = route.useSearch();
  const navigate = useNavigate();
  const router = useRouter();
  const { may } = useSession();
  const lib = useLibrary();
  const [recent, setRecent] = useRecent();
  const [values, setValues] = useState<Values>(search.in ?? sheet.example);
  const [units, setUnits] = useState<Record<string, string>>(search.units ?? {});
  const [second, setAlso] = useState(() => localStorage.getItem('second-torque'));
  const also = second ?? lib.data?.houseRules.secondaryTorque ?? 'ft_lbf';
  const [working, { toggle: toggleWorking }] = useDisclosure(true);
  const [marked, setMarked] = useState(false);
  const [putting, put] = useDisclosure(false);
  const link = useClipboard({ timeout: 2000 });
  const box = useRef<HTMLDivElement>(null);
  const ask = useDeferredValue(useMemo(() => ({ values, units, also, effects: true }), [values, units, also]));
  const cards = useMemo(() => lib.data?.lubricants.filter((l) => l.source !== 'library') ?? [], [lib.data]);
  const { answer, refusal } = useMemo(() => calculate(sheet.name, ask, cards), [sheet.name, ask, cards]);

  // The sheet stands first among the last open, and its address always opens this very sheet again.
  // biome-ignore lint/correctness/useExhaustiveDependencies: only what was put in is kept
  useEffect(() => {
    setRecent((list) => withRecent(list, { name: sheet.name, title: sheet.title, values, units }));
    const t = setTimeout(() => {
      if (router.latestLocation.pathname !== `/bench/${sheet.name}`) return; // on the way to another place: nobody is fetched back
      void navigate({ to: '/bench/$name', params: { name: sheet.name }, search: { in: values, units }, replace: true });
    }, 300);
    return () => clearTimeout(t);
  }, [values, units]);
  useEffect(() => {
    document.title = `${sheet.title} · Dynacor`;
  }, [sheet.title]);
  useHotkeys([
    ['w', toggleWorking],
    ['f', () => void navigate({ to: '/bench' })],
    ['mod+P', () => print()],
  ]);

  const set = (key: string) => (v: unknown) => {
    setMarked(false);
    setValues((old) => ({ ...old, [key]: v }));
  };
  const unit = (key: string) => (u: string, v: unknown) => {
    setUnits((old) => ({ ...old, [key]: u }));
    if (v !== '' && v !== undefined) setValues((old) => ({ ...old, [key]: v }));
  };
  const lookedOf = (key: string) => {
    const l = answer?.lookedUp.find((x) => x.key === key);
    const line = l && answer?.working.lines.find((x) => x.source === l.source && Math.abs(x.value - l.value) < 1e-12);
    return l && { text: line?.text.replace(/ .*/, '') ?? String(l.value), source: l.source };
  };
  const wrongOf = (key: string): Refusal | undefined => (refusal?.field === key ? refusal : undefined);
  const plain = sheet.inputs.filter((f) => f.kind !== 'table');
  const tables = sheet.inputs.filter((f) => f.kind === 'table');
  const drawing = drawings[sheet.drawing];
  const anchored = drawing ? plain.filter((f) => drawing.anchors[f.key]) : [];
  const rest = plain.filter((f) => !anchored.includes(f));
  const inputBox = (f: (typeof plain)[number]) => (
    <InputBox
      key={f.key}
      field={f}
      value={values[f.key]}
      unit={units[f.key]}
      looked={lookedOf(f.key)}
      wrong={wrongOf(f.key)}
      onChange={set(f.key)}
      onUnit={unit(f.key)}
    />
  );
  const lines = answer?.working.lines ?? [];
  const num = (symbol: string) => lines.findLast((l) => l.symbol === symbol)?.value;
  const loose = refusal && !sheet.inputs.some((f) => f.key === refusal.field);
  const depth = ['insertion_depth', 'socket_insertion'].includes(sheet.name);
  const torque = answer?.outputs.find((o) => o.key === 'torque_Nm');
  const engineer = may('putSpecification');
  return (
    <div className="bench">
      <nav className="bench-tabs" aria-label="Sheets last open">
        <Link to="/bench" className="all">
          All sheets
        </Link>
        <span className="on" aria-current="page">
          {sheet.title}
        </span>
        {recent
          .filter((k) => k.name !== sheet.name)
          .map((k) => (
            <Link key={k.name} to="/bench/$name" params={{ name: k.name }} search={{ in: k.values, units: k.units }}>
              {k.title}
            </Link>
          ))}
      </nav>
      <section className="bench-in grid-bg" ref={box} aria-label="What you set">
        <h1>{sheet.title}</h1>
        {sheet.fill.length > 0 && (
          <div className="bench-fill">
            {sheet.fill.map((key) => {
              const [label, hint] = fillNames[key] ?? [key, ''];
              const text = String(values[key] ?? '');
              const bad =
                wrongOf(key) ?? (refusal && refusal.field === key.replace('_found', '') ? refusal : undefined);
              return (
                <div key={key} className={`bx ${bad ? 'bad' : text ? '' : 'free'}`}>
                  <label htmlFor={`fill-${key}`}>{label}</label>
                  <div className="in">
                    {key.startsWith('lubricant') ? (
                      <select id={`fill-${key}`} value={text} onChange={(e) => set(key)(e.currentTarget.value)}>
                        <option value="">{hint}</option>
                        {(lib.data?.lubricants ?? []).map((l) => (
                          <option key={l.code} value={l.code}>
                            {l.name}
                          </option>
                        ))}
                      </select>
                    ) : (
                      <input
                        id={`fill-${key}`}
                        value={text}
                        placeholder={hint}
                        onChange={(e) => set(key)(e.currentTarget.value)}
                        autoComplete="off"
                        spellCheck={false}
                      />
                    )}
                  </div>
                  <p className={bad ? 'bad' : ''}>
                    {bad ? `${bad.why}. ${bad.remedy ?? ''}` : 'fills the broken boxes left empty'}
                  </p>
                </div>
              );
            })}
            <button
              type="button"
              className="btn plain"
              onClick={() =>
                setValues(Object.fromEntries(sheet.fill.filter((k) => values[k]).map((k) => [k, values[k]])))
              }
            >
              Empty the boxes
            </button>
          </div>
        )}
        {drawing && (answer || anchored.length > 0) && (
          <Figure drawing={drawing} boxes={anchored.map((f) => [f.key, inputBox(f)])}>
            {drawing.draw({ num, answer, values })}
          </Figure>
        )}
        {rest.length > 0 && <div className="bench-boxes">{rest.map(inputBox)}</div>}
        {tables.map((f) => (
          <TableInput key={f.key} field={f} value={values[f.key]} wrong={wrongOf(f.key)} onChange={set(f.key)} />
        ))}
        <dl className="bench-key">
          <dt>Solid box</dt>
          <dd>you set it, in the unit beside it or any you write: 60 in-lb, 1,5 kN, 3/16 in</dd>
          <dt>Broken box</dt>
          <dd>from a table, or the usual value; type to change it</dd>
          <dt>Holds for</dt>
          <dd>{sheet.limits}</dd>
          <dt>Source</dt>
          <dd>{sheet.source}</dd>
        </dl>
      </section>
      <section className="bench-out" aria-label="What follows" aria-live="polite">
        {answer ? (
          <Results answer={answer} onUnit={(key, u) => setUnits((old) => ({ ...old, [key]: u }))} />
        ) : (
          <p className="wrong" role="alert">
            {refusal
              ? `${loose ? refusal.field : (sheet.inputs.find((f) => f.key === refusal.field)?.label ?? refusal.field)}: ${refusal.why}. ${refusal.remedy ?? ''}`
              : 'One moment.'}
          </p>
        )}
        {answer?.working.warnings.map((t) => (
          <p key={t} className="bench-mind">
            {t}
          </p>
        ))}
        {depth && answer && (
          <label className="bench-mark">
            <input type="checkbox" checked={marked} onChange={(e) => setMarked(e.currentTarget.checked)} />
            <span>
              {marked ? 'The mark is made.' : 'Transfer the figure to the part, then tick: the mark is made.'}
            </span>
          </label>
        )}
        {answer && (
          <>
            <div className="rule">
              Working
              <button type="button" className="btn plain sm" aria-expanded={working} onClick={toggleWorking}>
                {working ? 'Close' : 'Open'} <kbd>W</kbd>
              </button>
            </div>
            <div className={working ? '' : 'print-only'}>
              <WorkingSheet workings={[{ ...answer.working, warnings: [] }]} />
            </div>
            <WhatIf sheet={sheet} ask={ask} answer={answer} cards={cards} />
          </>
        )}
        <div className="row-btns bench-acts">
          {torque && (
            <button
              type="button"
              className="btn sm"
              onClick={put.open}
              disabled={!engineer}
              title={engineer ? undefined : 'An engineer changes the specification of a joint'}
            >
              Use in joint…
            </button>
          )}
          <button type="button" className="btn sm" onClick={() => link.copy(location.href)}>
            {link.copied ? 'Link copied' : 'Copy link'}
          </button>
          <button type="button" className="btn sm" onClick={() => print()}>
            Print
          </button>
          <button
            type="button"
            className="btn sm"
            onClick={() => {
              setValues(sheet.example);
              setUnits({});
            }}
          >
            Start over
          </button>
          {answer?.outputs.some((o) => o.also) && (
            <label className="bench-also">
              second unit of torque
              <select
                value={also}
                onChange={(e) => {
                  localStorage.setItem('second-torque', e.currentTarget.value);
                  setAlso(e.currentTarget.value);
                }}
              >
                {(torque?.units ?? answer?.outputs.find((o) => o.also)?.units ?? []).map((u) => (
                  <option key={u} value={u}>
                    {unitText(u)}
                  </option>
                ))}
              </select>
            </label>
          )}
        </div>
      </section>
      {torque && (
        <Modal opened={putting} onClose={put.close} title="Use this torque in a joint" size="lg">
          <PutOnJoint sheet={sheet} torque={torque} />
        </Modal>
      )}
    </div>
  );
}
