import { useId, useState } from 'react';
import type { Field, Refusal } from '../../core/calc';
import { toUnit } from '../../core/calc';
import { unitText } from '../../kit/numbers';

export interface InputProps {
  field: Field;
  value: unknown;
  unit: string | undefined;
  looked: { text: string; source: string } | undefined;
  wrong: Refusal | undefined;
  onChange: (v: unknown) => void;
  onUnit: (u: string, v: unknown) => void;
}

const words = (s: string) => s.replaceAll('_', ' ');

/** One input as a box: solid when you set it, broken when it comes from a table or is the usual value. */
export function InputBox(p: InputProps) {
  const { field: f } = p;
  const id = useId();
  const text = typeof p.value === 'string' ? p.value : p.value === undefined || p.value === null ? '' : String(p.value);
  const given = text.trim() !== '';
  const unit = p.unit ?? f.unit;
  const state = p.wrong ? 'bad' : given ? '' : p.looked || f.default ? 'got' : f.optional ? 'free' : 'need';
  const [why, setWhy] = useState(false);
  const note = [f.help, f.limits && `Takes values ${f.limits}.`, p.looked?.source && `From ${p.looked.source}.`]
    .filter(Boolean)
    .join(' ');
  const hint = p.wrong ? `${p.wrong.why}. ${p.wrong.remedy ?? ''}` : why ? note : '';
  return (
    <div className={`bx ${state} k-${f.kind}`} data-key={f.key}>
      <label htmlFor={id}>
        {f.label}
        {f.symbol && <i>{f.symbol}</i>}
      </label>
      {note && (
        <button
          type="button"
          className="why"
          aria-label={`About ${f.label}`}
          aria-expanded={why}
          onClick={() => setWhy(!why)}
        >
          ?
        </button>
      )}
      <div className="in">
        {f.kind === 'choice' ? (
          <select id={id} value={text || f.default || ''} onChange={(e) => p.onChange(e.currentTarget.value)}>
            {(f.optional && !f.default) || (!f.default && !text) ? <option value="">choose</option> : null}
            {(f.choices ?? []).map((c) => (
              <option key={c} value={c}>
                {words(c)}
              </option>
            ))}
          </select>
        ) : f.kind === 'flag' ? (
          <select id={id} value={text || f.default || 'false'} onChange={(e) => p.onChange(e.currentTarget.value)}>
            <option value="true">yes</option>
            <option value="false">no</option>
          </select>
        ) : ['grid', 'cube'].includes(f.kind) ? (
          <textarea
            id={id}
            rows={4}
            value={text}
            onChange={(e) => p.onChange(e.currentTarget.value)}
            spellCheck={false}
          />
        ) : (
          <input
            id={id}
            value={text}
            placeholder={p.looked?.text ?? f.default ?? (f.optional ? 'not given' : '')}
            onChange={(e) => p.onChange(e.currentTarget.value)}
            autoComplete="off"
            spellCheck={false}
            aria-invalid={!!p.wrong}
            aria-describedby={hint ? `${id}-h` : undefined}
          />
        )}
        {f.units && f.units.length > 1 ? (
          <select
            className="unit"
            aria-label={`Unit of ${f.label}`}
            value={unit}
            onChange={(e) => p.onUnit(e.currentTarget.value, toUnit(text, unit ?? '', e.currentTarget.value))}
          >
            {f.units.map((u) => (
              <option key={u} value={u}>
                {unitText(u)}
              </option>
            ))}
          </select>
        ) : (
          f.unit && <span className="unit">{unitText(f.unit)}</span>
        )}
      </div>
      {hint && (
        <p id={`${id}-h`} className={p.wrong ? 'bad' : ''}>
          {hint}
        </p>
      )}
      {!hint && p.looked && !given && <p>table</p>}
      {!hint && !p.looked && !given && f.default && f.kind !== 'choice' && f.kind !== 'flag' && <p>usual value</p>}
    </div>
  );
}

type Row = Record<string, unknown>;

/** A table typed cell by cell, or pasted whole from a spreadsheet. */
export function TableInput({
  field: f,
  value,
  wrong,
  onChange,
}: {
  field: Field;
  value: unknown;
  wrong: Refusal | undefined;
  onChange: (v: unknown) => void;
}) {
  const rows: Row[] = Array.isArray(value) ? (value as Row[]) : [];
  const cols = f.columns ?? [];
  const cell = (v: unknown) => (Array.isArray(v) ? v.join(' ') : v === undefined || v === null ? '' : String(v));
  const put = (i: number, key: string, v: string) => {
    const next = i < rows.length ? rows.map((r, j) => (j === i ? { ...r, [key]: v } : r)) : [...rows, { [key]: v }];
    onChange(next.filter((r) => Object.values(r).some((x) => cell(x).trim() !== '')));
  };
  const paste = (i: number, text: string) => {
    const lines = text.trim().split(/\r?\n/);
    const added = lines.map((l) => {
      const cells = l.split(/\t|;/);
      return Object.fromEntries(cols.map((c, j) => [c.key, (cells[j] ?? '').trim()]));
    });
    onChange([...rows.slice(0, i), ...added, ...rows.slice(i + 1)]);
  };
  return (
    <div className={`bx table ${wrong ? 'bad' : ''}`} data-key={f.key}>
      <span className="lb">{f.label}</span>
      <div className="scroll">
        <table className="t">
          <thead>
            <tr>
              {cols.map((c) => (
                <th key={c.key}>
                  {c.label}
                  {c.unit ? `, ${unitText(c.unit)}` : ''}
                </th>
              ))}
              <th />
            </tr>
          </thead>
          <tbody>
            {[...rows, {} as Row].map((r, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: rows have no other name, and are edited in place
              <tr key={i}>
                {cols.map((c) => (
                  <td key={c.key}>
                    {c.kind === 'choice' ? (
                      <select
                        aria-label={`${c.label}, row ${i + 1}`}
                        value={cell(r[c.key])}
                        onChange={(e) => put(i, c.key, e.currentTarget.value)}
                      >
                        <option value="">{c.default ?? ''}</option>
                        {(c.choices ?? []).map((x) => (
                          <option key={x} value={x}>
                            {words(x)}
                          </option>
                        ))}
                      </select>
                    ) : (
                      <input
                        aria-label={`${c.label}, row ${i + 1}`}
                        value={cell(r[c.key])}
                        placeholder={i < rows.length ? c.default : ''}
                        onChange={(e) => put(i, c.key, e.currentTarget.value)}
                        onPaste={(e) => {
                          const t = e.clipboardData.getData('text');
                          if (!/[\n\t]/.test(t.trim())) return;
                          e.preventDefault();
                          paste(i, t);
                        }}
                        autoComplete="off"
                      />
                    )}
                  </td>
                ))}
                <td>
                  {i < rows.length && (
                    <button
                      type="button"
                      className="why"
                      aria-label={`Remove row ${i + 1}`}
                      onClick={() => onChange(rows.filter((_, j) => j !== i))}
                    >
                      ×
                    </button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {wrong ? (
        <p className="bad">
          {wrong.why}. {wrong.remedy}
        </p>
      ) : (
        <p>{f.help ? `${f.help} ` : ''}Rows can be pasted from a spreadsheet.</p>
      )}
    </div>
  );
}
