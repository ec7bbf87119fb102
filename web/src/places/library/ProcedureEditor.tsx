import { Checkbox, MultiSelect, Select, Tabs, Textarea, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, type Family, type Fault, must, type Plan, type ProcedureDetail } from '../../api/client';
import { Figure } from '../../kit/Figure';
import { limitText } from '../joint/limits';
import { sketches } from '../joint/sketches';
import { ChangeList, stopWord } from './Procedures';
import { type Box, checkBoxes, fastenerBoxes, generalBoxes, stepBoxes } from './procedureFields';

type Plain = Record<string, unknown>;
type ListKey = 'work' | 'checks' | 'fasteners';
interface Spot {
  list: ListKey | 'general';
  code: string;
}

const drawn = ['cradle', 'lubricate', 'numbering', 'layout', ...Object.keys(sketches)];

/** A site's own version while it is written: parts of it as a form, or all of it as YAML; how a sample joint would be led stands beside it. */
export function ProcedureEditor({
  detail,
  onClose,
  onKept,
}: {
  detail: ProcedureDetail;
  onClose: () => void;
  onKept: (version: number) => void;
}) {
  const code = detail.family.code;
  const [family, setFamily] = useState<Family>(detail.family);
  const [text, setText] = useState<string>(); // as YAML, while it is written by hand
  const [spot, setSpot] = useState<Spot>({ list: 'general', code: '' });
  const [past, setPast] = useState<Family[]>([]);
  const [reason, setReason] = useState('');
  const [wrong, setWrong] = useState('');
  const [busy, setBusy] = useState(false);
  const [source] = useDebouncedValue(text ?? JSON.stringify(family), 350);
  const trial = useQuery({
    queryKey: ['library', 'try', code, source],
    queryFn: () =>
      must(api.POST('/procedures/{code}/try', { params: { path: { code } }, body: { yaml: source, reason: '' } })),
    placeholderData: (last) => last,
    retry: false,
  });
  const faults = trial.data?.faults ?? [];
  const put = (next: Family) => {
    setPast((p) => [...p.slice(-49), family]);
    setFamily(next);
  };
  const base = spot.list === 'general' ? '' : `${spot.list}.${spot.code}`;
  const chosen = (
    spot.list === 'general' ? family : (family[spot.list] as { code: string }[]).find((x) => x.code === spot.code)
  ) as Plain | undefined;
  const boxes =
    spot.list === 'checks'
      ? checkBoxes(family, drawn)
      : spot.list === 'work'
        ? stepBoxes(family)
        : spot.list === 'fasteners'
          ? fastenerBoxes()
          : generalBoxes();
  function change(key: string, value: unknown) {
    const write = (o: Plain): Plain => {
      const next = { ...o, [key]: value };
      if (value === '' || value === undefined || value === false || (Array.isArray(value) && value.length === 0))
        delete next[key];
      if (spot.list === 'checks' && (key === 'group' || key === 'before' || key === 'after')) {
        const row = family.rows.find((g) => g.code === next.group);
        if (row) next.stop = row.station;
      }
      return next;
    };
    if (spot.list === 'general') put(write(family as unknown as Plain) as unknown as Family);
    else
      put({
        ...family,
        [spot.list]: (family[spot.list] as unknown as Plain[]).map((x) => (x.code === spot.code ? write(x) : x)),
      });
  }
  function move(by: number) {
    if (spot.list === 'general') return;
    const list = [...(family[spot.list] as { code: string }[])];
    const at = list.findIndex((x) => x.code === spot.code);
    const to = at + by;
    if (at < 0 || to < 0 || to >= list.length) return;
    const [x] = list.splice(at, 1);
    if (x) list.splice(to, 0, x);
    put({ ...family, [spot.list]: list });
  }
  function remove() {
    if (spot.list === 'general') return;
    put({ ...family, [spot.list]: (family[spot.list] as { code: string }[]).filter((x) => x.code !== spot.code) });
    setSpot({ list: 'general', code: '' });
  }
  function add(list: 'work' | 'checks') {
    const have = new Set((family[list] as { code: string }[]).map((x) => x.code));
    let i = 1;
    while (have.has(`own_${i}`)) i++;
    const own = `own_${i}`;
    if (list === 'checks') {
      const row = family.rows[0];
      const check = {
        code: own,
        station: row?.station ?? 'ready',
        row: row?.code ?? '',
        kind: 'confirm' as const,
        title: 'New check',
        ask: '',
        why: '',
      };
      put({ ...family, checks: [...family.checks, check] });
    } else
      put({
        ...family,
        work: [
          ...family.work,
          { code: own, do: 'hand' as const, groups: [family.fasteners[0]?.code ?? ''], name: 'new step' },
        ],
      });
    setSpot({ list, code: own });
  }
  async function keep() {
    setBusy(true);
    setWrong('');
    try {
      const d = await must(
        api.PUT('/procedures/{code}', {
          params: { path: { code } },
          body: { yaml: text ?? JSON.stringify(family), reason },
        }),
      );
      onKept(d.family.version);
    } catch (e) {
      setWrong((e as Error).message);
    } finally {
      setBusy(false);
    }
  }
  const faultOf = (key: string) => faults.find((x) => x.path === (base ? `${base}.${key}` : key));
  return (
    <div className="proc-edit">
      <div className="row-btns" style={{ marginTop: 0 }}>
        <h1 className="title" style={{ flex: 1 }}>
          {detail.family.name}: a version of the site’s own
        </h1>
        <button
          type="button"
          className="btn sm"
          disabled={past.length === 0 || text !== undefined}
          onClick={() => {
            const last = past.at(-1);
            if (last) {
              setFamily(last);
              setPast(past.slice(0, -1));
            }
          }}
        >
          Undo
        </button>
        <label className="btn sm">
          Open a YAML file
          <input
            type="file"
            accept=".yaml,.yml,.json,application/yaml"
            className="sr"
            onChange={(e) => {
              void e.target.files?.[0]?.text().then(setText);
              e.target.value = '';
            }}
          />
        </label>
        <button
          type="button"
          className="btn sm"
          aria-pressed={text !== undefined}
          onClick={() => {
            if (text === undefined) setText(trial.data?.yaml || detail.yaml);
            else if (faults.length === 0 && trial.data?.family) {
              put(trial.data.family);
              setText(undefined);
            } else setWrong('Put the faults right first, then go back to the form.');
          }}
        >
          {text === undefined ? 'Write it as YAML' : 'Back to the form'}
        </button>
        <button type="button" className="btn sm" onClick={onClose}>
          Leave
        </button>
      </div>
      <div className="proc-cols">
        {text !== undefined ? (
          <section className="yaml">
            <YamlText text={text} faults={faults} onChange={setText} />
          </section>
        ) : (
          <>
            <nav aria-label="Parts of the procedure">
              <SpotButton
                label="The family"
                on={spot.list === 'general'}
                bad={faults.some((x) => !x.path.includes('.'))}
                onClick={() => setSpot({ list: 'general', code: '' })}
              />
              <h3>Fasteners</h3>
              {family.fasteners.map((g) => (
                <SpotButton
                  key={g.code}
                  label={g.name}
                  on={spot.code === g.code}
                  bad={faults.some((x) => x.path.startsWith(`fasteners.${g.code}`))}
                  onClick={() => setSpot({ list: 'fasteners', code: g.code })}
                />
              ))}
              <h3>Steps</h3>
              {family.work.map((w) => (
                <SpotButton
                  key={w.code}
                  label={w.name ?? w.code}
                  on={spot.list === 'work' && spot.code === w.code}
                  bad={faults.some((x) => x.path.startsWith(`work.${w.code}`))}
                  onClick={() => setSpot({ list: 'work', code: w.code })}
                />
              ))}
              <button type="button" className="btn plain sm" onClick={() => add('work')}>
                + a step
              </button>
              {(['ready', 'tighten', 'prove', 'hand_over'] as const).map((stop) => (
                <div key={stop}>
                  <h3>{stopWord[stop]}</h3>
                  {family.checks
                    .filter((c) => c.station === stop)
                    .map((c) => (
                      <SpotButton
                        key={c.code}
                        label={c.title}
                        on={spot.list === 'checks' && spot.code === c.code}
                        bad={faults.some((x) => x.path.startsWith(`checks.${c.code}`))}
                        onClick={() => setSpot({ list: 'checks', code: c.code })}
                      />
                    ))}
                </div>
              ))}
              <button type="button" className="btn plain sm" onClick={() => add('checks')}>
                + a check
              </button>
            </nav>
            <section>
              {chosen && (
                <>
                  {spot.list !== 'general' && (
                    <div className="row-btns" style={{ marginTop: 0 }}>
                      <span className="m dim">{spot.code}</span>
                      <button type="button" className="btn sm" onClick={() => move(-1)}>
                        Earlier
                      </button>
                      <button type="button" className="btn sm" onClick={() => move(1)}>
                        Later
                      </button>
                      {spot.list !== 'fasteners' && (
                        <button type="button" className="btn sm" onClick={remove}>
                          Take out
                        </button>
                      )}
                    </div>
                  )}
                  <div className="fields">
                    {boxes
                      .filter((b) => !b.only || b.only(chosen))
                      .map((b) => (
                        <BoxField
                          key={`${base}.${b.key}`}
                          box={b}
                          value={chosen[b.key]}
                          fault={faultOf(b.key)}
                          onChange={(v) => change(b.key, v)}
                        />
                      ))}
                  </div>
                </>
              )}
            </section>
          </>
        )}
        <section className="preview">
          {faults.length > 0 && (
            <div className="finding stop" role="alert">
              <b>
                {faults.length === 1
                  ? 'One thing keeps it from being used'
                  : `${faults.length} things keep it from being used`}
              </b>
              {faults.slice(0, 8).map((x) => (
                <div key={x.path + x.what}>
                  {text !== undefined && x.line ? `Line ${x.line}: ` : ''}
                  <button
                    type="button"
                    className="code"
                    onClick={() => {
                      const [list, c] = x.path.split(/[.[]/);
                      if (text === undefined && c && (list === 'checks' || list === 'work' || list === 'fasteners'))
                        setSpot({ list, code: c });
                    }}
                  >
                    {x.path.replaceAll('.', ' › ')}
                  </button>{' '}
                  {x.what}. {x.remedy}
                </div>
              ))}
            </div>
          )}
          <Preview plan={trial.data?.plan} changes={trial.data?.changes ?? []} />
          <Textarea
            label="What changed, and why"
            value={reason}
            onChange={(e) => setReason(e.currentTarget.value)}
            autosize
            minRows={2}
            maxLength={500}
            my={10}
          />
          {wrong && (
            <p className="wrong" role="alert">
              {wrong}
            </p>
          )}
          <button
            type="button"
            className="btn now wide"
            disabled={busy || faults.length > 0 || !reason.trim()}
            onClick={() => void keep()}
          >
            Keep as a draft
          </button>
          <p className="dim">An engineer approves it before work is planned by it.</p>
        </section>
      </div>
    </div>
  );
}

function SpotButton({ label, on, bad, onClick }: { label: string; on: boolean; bad: boolean; onClick: () => void }) {
  return (
    <button type="button" className={`spot${on ? ' on' : ''}`} aria-current={on} onClick={onClick}>
      {label}
      {bad && (
        <span className="neg" role="img" aria-label="has a fault">
          {' '}
          ✕
        </span>
      )}
    </button>
  );
}

/** One box: what is wrong with it stands beside it. */
function BoxField({
  box: b,
  value,
  fault,
  onChange,
}: {
  box: Box;
  value: unknown;
  fault: Fault | undefined;
  onChange: (v: unknown) => void;
}) {
  const error = fault ? `${fault.what}. ${fault.remedy ?? ''}` : undefined;
  const textValue = typeof value === 'string' ? value : '';
  switch (b.kind) {
    case 'text':
      return (
        <TextInput label={b.label} value={textValue} error={error} onChange={(e) => onChange(e.currentTarget.value)} />
      );
    case 'long':
      return (
        <Textarea
          className="wide"
          label={b.label}
          value={textValue}
          error={error}
          autosize
          minRows={1}
          onChange={(e) => onChange(e.currentTarget.value)}
        />
      );
    case 'lines':
      return (
        <Textarea
          className="wide"
          label={b.label}
          value={Array.isArray(value) ? value.join('\n') : ''}
          error={error}
          autosize
          minRows={1}
          onChange={(e) => onChange(e.currentTarget.value === '' ? [] : e.currentTarget.value.split('\n'))}
        />
      );
    case 'number':
      return (
        <Figure
          label={b.label}
          value={typeof value === 'number' ? value : ''}
          error={error}
          onChange={(v) => onChange(v === '' ? undefined : v)}
        />
      );
    case 'numbers':
      return (
        <TextInput
          label={b.label}
          placeholder="4, 8"
          defaultValue={Array.isArray(value) ? value.join(', ') : ''}
          error={error}
          onChange={(e) =>
            onChange(
              e.currentTarget.value
                .split(/[\s,]+/)
                .map(Number)
                .filter(Boolean),
            )
          }
        />
      );
    case 'choice':
      return (
        <Select
          label={b.label}
          value={textValue}
          error={error}
          data={(b.choices ?? []).map(([v, label]) => ({ value: v, label: label || v }))}
          onChange={(v) => onChange(v ?? '')}
          searchable
        />
      );
    case 'many':
      return (
        <MultiSelect
          className="wide"
          label={b.label}
          value={Array.isArray(value) ? (value as string[]) : []}
          error={error}
          data={(b.choices ?? []).map(([v, label]) => ({ value: v, label: label || v }))}
          onChange={onChange}
          searchable
        />
      );
    case 'yes':
      return <Checkbox label={b.label} checked={value === true} onChange={(e) => onChange(e.currentTarget.checked)} />;
  }
}

/** The text with its line numbers; a line with a fault is marked. */
function YamlText({ text, faults, onChange }: { text: string; faults: Fault[]; onChange: (t: string) => void }) {
  const bad = new Map(faults.map((f) => [f.line ?? 0, f.what]));
  const lines = text.split('\n').length;
  return (
    <div className="yaml-text">
      <pre aria-hidden="true">
        {Array.from({ length: lines }, (_, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a line has no other name than its number
          <span key={`l${i + 1}`} className={bad.has(i + 1) ? 'neg' : ''} title={bad.get(i + 1)}>
            {bad.has(i + 1) ? '✕' : ''}
            {i + 1}
            {'\n'}
          </span>
        ))}
      </pre>
      <textarea
        aria-label="The procedure as YAML"
        spellCheck={false}
        value={text}
        rows={lines}
        onChange={(e) => onChange(e.target.value)}
      />
    </div>
  );
}

/** How a sample joint would be led. */
function Preview({ plan, changes }: { plan: Plan | undefined; changes: ProcedureDetail['changes'] }) {
  if (!plan) return <p className="dim">The preview comes back when nothing keeps the procedure from being used.</p>;
  const rows = (station: string) =>
    plan.rows
      .filter((g) => g.station === station)
      .map((g) => (
        <div key={g.code} className="pv-row">
          <b>{g.title}</b>
          <ul>
            {plan.checks
              .filter((c) => c.row === g.code)
              .map((c) => (
                <li key={c.code}>
                  {c.title}
                  {c.hold ? ' (hold)' : ''}
                  {c.pass ? `, before ${c.pass > plan.passes.length ? 'Prove' : `pass ${c.pass}`}` : ''}
                  {c.kind === 'measure' ? `: ${limitText(c)}` : ''}
                </li>
              ))}
          </ul>
        </div>
      ));
  return (
    <Tabs defaultValue="ready" keepMounted={false}>
      <Tabs.List>
        <Tabs.Tab value="ready">Ready</Tabs.Tab>
        <Tabs.Tab value="tighten">Tighten</Tabs.Tab>
        <Tabs.Tab value="prove">Prove</Tabs.Tab>
        <Tabs.Tab value="changes">Changes {changes.length}</Tabs.Tab>
      </Tabs.List>
      <Tabs.Panel value="ready">{rows('ready')}</Tabs.Panel>
      <Tabs.Panel value="tighten">
        <ol>
          {plan.passes.map((p) => (
            <li key={p.number}>
              {p.name} <span className="dim">{p.group?.replaceAll('_', ' ')}</span>
              {p.turnDeg ? `, ${p.turnDeg}°` : ''}{' '}
              <span className="m dim">{p.order.map((x) => plan.chalk[x - 1]).join(' ')}</span>
            </li>
          ))}
        </ol>
        {rows('tighten')}
      </Tabs.Panel>
      <Tabs.Panel value="prove">
        {rows('prove')}
        {rows('hand_over')}
      </Tabs.Panel>
      <Tabs.Panel value="changes">
        <ChangeList changes={changes} title="Against the version in force" />
      </Tabs.Panel>
    </Tabs>
  );
}
