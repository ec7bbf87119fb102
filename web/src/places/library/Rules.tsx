import { Modal, Select, Textarea, TextInput } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, must, Refused } from '../../api/client';
import type { components } from '../../api/schema';
import { Figure } from '../../kit/Figure';
import { num, when, wholeOf } from '../../kit/numbers';
import { drawn, RuleLooks } from './RuleLooks';
import type { Library } from './shelves';

type HouseRules = components['schemas']['HouseRules'];

type Rule = components['schemas']['HouseRule'];

/** The rules with their choices; a lubricant is chosen among the site's cards too. */
const rules = (l: Library): Rule[] =>
  l.rules.map((r) =>
    r.kind === 'lubricant'
      ? { ...r, choices: [...(r.choices ?? []), ...l.lubricants.map((c) => ({ value: c.code, label: c.name }))] }
      : r,
  );

/** A figure as the form shows it: a share in per cent. */
const shown = (r: Rule, v: string | number | undefined) =>
  r.share && typeof v === 'number' ? Math.round(v * 10000) / 100 : (v as number | '');

type Plain = Record<string, unknown>;
const read = (r: HouseRules, key: string): unknown =>
  key.split('.').reduce<unknown>((o, k) => (o as Plain | undefined)?.[k], r);
const said = (rule: Rule, v: unknown) => {
  const choice = rule.choices?.find((c) => c.value === String(v))?.label;
  if (rule.share && typeof v === 'number') return `${num(100 * v, 1)} %`;
  const text = choice ?? (typeof v === 'number' ? num(v, 3) : String(v ?? ''));
  return rule.unit ? `${text} ${rule.unit}` : text;
};
const choiceOf = (rule: Rule, v: unknown) => rule.choices?.find((c) => c.value === String(v));

/** The site's chosen schools and limits: what is in force and why, what was delivered, and who changed what. */
export function Rules({ l, engineer }: { l: Library; engineer: boolean }) {
  const history = useQuery({ queryKey: ['house-rules'], queryFn: () => must(api.GET('/house-rules')) });
  const [editing, edit] = useDisclosure(false);
  const list = rules(l);
  const now = l.houseRules;
  const given = history.data?.delivered;
  return (
    <>
      <div className="row-btns">
        <span className="dim">
          Version {now.version}. Where practitioners differ the site chooses; as delivered it is the more cautious
          choice. A plan names the version it was made with.
        </span>
        <button
          type="button"
          className="btn sm"
          disabled={!engineer}
          onClick={edit.open}
          title={engineer ? undefined : 'An engineer changes the house rules'}
        >
          Change the rules
        </button>
      </div>
      <table className="t rules">
        <tbody>
          {list.map((r) => (
            <tr key={r.key}>
              <td style={{ fontWeight: 700 }}>{r.label}</td>
              <td>
                <div className="chosen">
                  <RuleLooks rule={r} choice={choiceOf(r, read(now, r.key))} />
                  {said(r, read(now, r.key))}
                </div>
              </td>
              <td className="dim">
                {r.why && now.reasons[r.why]}
                {given && said(r, read(given, r.key)) !== said(r, read(now, r.key)) && (
                  <div>As delivered: {said(r, read(given, r.key))}.</div>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="rule" style={{ marginTop: 16 }}>
        Versions
      </div>
      <ul className="versions">
        {history.data?.versions.map((v, i) => {
          const before = history.data?.versions[i + 1]?.rules;
          return (
            <li key={v.rules.version}>
              <b>{v.rules.version}</b> {v.madeBy}, {when(v.madeAt)}
              {v.reason && <div className="dim">{v.reason}</div>}
              {before &&
                list
                  .filter((r) => said(r, read(before, r.key)) !== said(r, read(v.rules, r.key)))
                  .map((r) => (
                    <div key={r.key}>
                      {r.label}: <s>{said(r, read(before, r.key))}</s> {said(r, read(v.rules, r.key))}
                    </div>
                  ))}
            </li>
          );
        })}
      </ul>
      <Modal opened={editing} onClose={edit.close} title="A new version of the house rules" size="xl">
        <RulesForm l={l} onDone={edit.close} />
      </Modal>
    </>
  );
}

function RulesForm({ l, onDone }: { l: Library; onDone: () => void }) {
  const list = rules(l);
  const [values, setValues] = useState<Record<string, string | number>>(() =>
    Object.fromEntries(list.map((r) => [r.key, (read(l.houseRules, r.key) as string | number | undefined) ?? ''])),
  );
  const [reasons, setReasons] = useState(l.houseRules.reasons);
  const [reason, setReason] = useState('');
  const [wrong, setWrong] = useState<Error>();
  const qc = useQueryClient();
  const field = wrong instanceof Refused ? wrong.field : undefined;
  const err = (key: string) =>
    field === key || (field === 'limits' && key.startsWith('limits.')) ? wrong?.message : undefined;
  const known = new Set(['reason', 'limits', ...list.map((r) => r.key), ...list.map((r) => `reasons.${r.why}`)]);
  const set = (key: string, v: string | number | null) => setValues((old) => ({ ...old, [key]: v ?? '' }));
  // Some rules of choices are figures too: a choice is given back in the form that it came in.
  const chosen = (r: Rule, v: string | null) =>
    set(r.key, typeof read(l.houseRules, r.key) === 'number' && v !== null ? wholeOf(v) : v);
  async function keep() {
    const next: Plain = { ...l.houseRules, reasons, limits: { ...l.houseRules.limits } };
    for (const r of list) {
      const value = values[r.key];
      if (r.kind === 'figure' && (typeof value !== 'number' || Number.isNaN(value))) {
        setWrong(
          new Refused({ title: `${r.label}: there is no figure.`, status: 422, field: r.key, remedy: 'Enter one.' }),
        );
        return;
      }
      if (r.key.startsWith('limits.')) (next.limits as Plain)[r.key.slice(7)] = value;
      else next[r.key] = value;
    }
    setWrong(undefined);
    try {
      await must(api.PUT('/house-rules', { body: { rules: next as HouseRules, reason } }));
      for (const key of [['library'], ['house-rules'], ['joint'], ['tools']])
        void qc.invalidateQueries({ queryKey: key });
      onDone();
    } catch (e) {
      setWrong(e as Error);
    }
  }
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        void keep();
      }}
    >
      <p className="dim">
        Plans made before are told to be stale and are made anew when work begins. Work that has begun goes on with what
        it began with.
      </p>
      <div className="rules-form">
        {list.map((r) => (
          <div key={r.key} className={r.why ? 'school' : ''}>
            {r.choices && drawn(r) ? (
              <fieldset className="looks">
                <legend>{r.label}</legend>
                {r.choices.map((c) => (
                  <label key={c.value} className={String(values[r.key]) === c.value ? 'on' : ''}>
                    <input
                      type="radio"
                      className="sr"
                      name={r.key}
                      checked={String(values[r.key]) === c.value}
                      onChange={() => chosen(r, c.value)}
                    />
                    <RuleLooks rule={r} choice={c} />
                    {c.label}
                  </label>
                ))}
                {err(r.key) && <p className="wrong">{err(r.key)}</p>}
              </fieldset>
            ) : r.choices ? (
              <Select
                label={r.label}
                data={r.choices}
                value={values[r.key] === '' ? null : String(values[r.key])}
                onChange={(v) => chosen(r, v)}
                error={err(r.key)}
                allowDeselect={false}
              />
            ) : r.kind === 'words' ? (
              <TextInput
                label={r.label}
                value={String(values[r.key] ?? '')}
                onChange={(e) => set(r.key, e.currentTarget.value)}
                error={err(r.key)}
              />
            ) : (
              <Figure
                label={r.share ? `${r.label}, %` : r.unit ? `${r.label}, ${r.unit}` : r.label}
                value={shown(r, values[r.key])}
                onChange={(v) => set(r.key, r.share && typeof v === 'number' ? v / 100 : v)}
                error={err(r.key)}
              />
            )}
            {r.why && (
              <TextInput
                label="because"
                value={reasons[r.why] ?? ''}
                onChange={(e) => setReasons((old) => ({ ...old, [r.why as string]: e.currentTarget.value }))}
                error={err(`reasons.${r.why}`)}
              />
            )}
          </div>
        ))}
      </div>
      <Textarea
        label="What changed, and why now"
        value={reason}
        onChange={(e) => setReason(e.currentTarget.value)}
        error={err('reason')}
        autosize
        minRows={2}
      />
      {wrong && (!field || !known.has(field)) && (
        <p className="wrong" role="alert">
          {wrong.message}
        </p>
      )}
      <div className="row-btns">
        <button type="submit" className="btn now">
          Keep this version
        </button>
      </div>
    </form>
  );
}
