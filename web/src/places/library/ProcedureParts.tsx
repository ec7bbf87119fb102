import { Checkbox, MultiSelect, Select, Tabs, Textarea, TextInput } from '@mantine/core';
import type { Fault, Plan, ProcedureDetail } from '../../api/client';
import { Figure } from '../../kit/Figure';
import { limitText } from '../joint/limits';
import { ChangeList } from './Procedures';
import type { Box } from './procedureFields';

export function SpotButton({
  label,
  on,
  bad,
  onClick,
}: {
  label: string;
  on: boolean;
  bad: boolean;
  onClick: () => void;
}) {
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
export function BoxField({
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
export function YamlText({ text, faults, onChange }: { text: string; faults: Fault[]; onChange: (t: string) => void }) {
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
export function Preview({ plan, changes }: { plan: Plan | undefined; changes: ProcedureDetail['changes'] }) {
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
