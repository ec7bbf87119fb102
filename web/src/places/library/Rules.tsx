import { Modal, Select, Textarea, TextInput } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, must, Refused } from '../../api/client';
import type { components } from '../../api/schema';
import { Figure } from '../../kit/Figure';
import { num, unitText, when } from '../../kit/numbers';
import type { Library } from './shelves';

type HouseRules = components['schemas']['HouseRules'];

interface Rule {
  key: string; // limits.proof_gap and the like for one limit
  name: string;
  unit?: string;
  choices?: [string, string][];
  why?: string; // key of its reason, where schools differ
}

const torques = ['N_m', 'ft_lbf', 'in_lbf', 'kgf_m'].map((u): [string, string] => [u, unitText(u)]);

const rules = (l: Library): Rule[] => [
  { key: 'scheme', name: 'Stages', choices: l.schemes.map((s) => [s.code, s.name]), why: 'scheme' },
  {
    key: 'pattern',
    name: 'Order',
    choices: [
      ['cross', 'across, pair by pair'],
      ['group', 'quarters or eighths'],
      ['clockwise', 'around'],
    ],
    why: 'pattern',
  },
  {
    key: 'groups',
    name: 'When in groups',
    choices: [
      ['4', 'quarters'],
      ['8', 'eighths'],
    ],
  },
  {
    key: 'numbering',
    name: 'Numbers',
    choices: [
      ['place', 'by place'],
      ['order', 'in order of tightening'],
    ],
    why: 'numbering',
  },
  {
    key: 'policy',
    name: 'Inside a range',
    choices: [
      ['low', 'the low end'],
      ['middle', 'the middle'],
      ['high', 'the high end'],
    ],
    why: 'policy',
  },
  { key: 'minFrac', name: 'A wrench is usable from this part of full scale', why: 'minFrac' },
  { key: 'preferredFrac', name: 'and best at this part' },
  { key: 'movedLimitDeg', name: 'A nut may move in a check round', unit: '°', why: 'movedLimitDeg' },
  { key: 'maxCheckPasses', name: 'Check rounds before the engineer is asked' },
  { key: 'maxYieldPct', name: 'Bolts at most at, of yield', unit: '%', why: 'maxYieldPct' },
  { key: 'minYieldPct', name: 'Bolts at least at, of yield', unit: '%' },
  { key: 'limits.alignment_gap', name: 'Gap before tightening may differ', unit: 'mm', why: 'limits' },
  { key: 'limits.rim_offset', name: 'Rims may be offset', unit: 'mm' },
  { key: 'limits.hole_overlap', name: 'Holes may be off', unit: 'mm' },
  { key: 'limits.proof_gap', name: 'Gap after tightening may differ', unit: 'mm' },
  {
    key: 'storage',
    name: 'A click wrench is wound down',
    choices: [
      ['lowest_mark', 'to its lowest mark, never below'],
      ['maker', 'as the maker of the wrench says'],
    ],
    why: 'storage',
  },
  {
    key: 'extensions',
    name: 'A straight extension',
    choices: [
      ['in_line', 'is used, without a correction'],
      ['none', 'is not used'],
    ],
    why: 'extensions',
  },
  {
    key: 'powered',
    name: 'A powered or impact wrench',
    choices: [
      ['never', 'is never used'],
      ['run_down', 'runs nuts down only'],
    ],
    why: 'powered',
  },
  {
    key: 'lubricant',
    name: 'Where the document names no lubricant',
    choices: [['ask', 'it is asked for'], ...l.lubricants.map((c): [string, string] => [c.code, c.name])],
    why: 'lubricant',
  },
  { key: 'retorqueHours', name: 'Re-torque after so long, 0 for none', unit: 'h', why: 'retorqueHours' },
  {
    key: 'audit',
    name: 'A finished joint is audited',
    choices: [
      ['moving_on', 'by the torque at which a nut moves on'],
      ['no_movement', 'at the last setting, nothing may turn'],
      ['marks', 'by its marks, with no tool'],
    ],
    why: 'audit',
  },
  { key: 'sessionHours', name: 'A sign-in ends after', unit: 'h' },
  { key: 'sessionIdleHours', name: 'A sign-in ends when nobody was seen for', unit: 'h' },
  { key: 'readingBandPct', name: 'A reading may be off, where the document gives no tolerance', unit: '%' },
  { key: 'looseningFactor', name: 'Loosening is reckoned with so many times the torque' },
  { key: 'pauseMinutes', name: 'Setting asked again after silence of', unit: 'min' },
  { key: 'secondsPerPull', name: 'One pull takes', unit: 's' },
  { key: 'secondsPerPass', name: 'Setting the wrench takes', unit: 's' },
  { key: 'dueSoonDays', name: 'A certificate is due soon before', unit: 'days' },
  { key: 'primaryTorque', name: 'Torque is told in', choices: torques },
  { key: 'secondaryTorque', name: 'and beside it in', choices: torques },
  { key: 'protectiveAtSite', name: 'Protective equipment' },
];

type Plain = Record<string, unknown>;
const read = (r: HouseRules, key: string): unknown => key.split('.').reduce<unknown>((o, k) => (o as Plain | undefined)?.[k], r);
const texts = new Set(['protectiveAtSite']);

const said = (rule: Rule, v: unknown) => {
  const choice = rule.choices?.find(([c]) => c === String(v))?.[1];
  const text = choice ?? (typeof v === 'number' ? num(v, 3) : String(v ?? ''));
  return rule.unit ? `${text} ${rule.unit}` : text;
};

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
          Version {now.version}. Where practitioners differ the site chooses; as delivered it is the more cautious choice. A plan names the
          version it was made with.
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
              <td style={{ fontWeight: 700 }}>{r.name}</td>
              <td>{said(r, read(now, r.key))}</td>
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
                      {r.name}: <s>{said(r, read(before, r.key))}</s> {said(r, read(v.rules, r.key))}
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
  const [values, setValues] = useState<Record<string, string>>(() =>
    Object.fromEntries(list.map((r) => [r.key, String(read(l.houseRules, r.key) ?? '')])),
  );
  const [reasons, setReasons] = useState(l.houseRules.reasons);
  const [reason, setReason] = useState('');
  const [wrong, setWrong] = useState<Error>();
  const qc = useQueryClient();
  const field = wrong instanceof Refused ? wrong.field : undefined;
  const err = (key: string) => (field === key || (field === 'limits' && key.startsWith('limits.')) ? wrong?.message : undefined);
  const known = new Set(['reason', 'limits', ...list.map((r) => r.key), ...list.map((r) => `reasons.${r.why}`)]);
  const set = (key: string, v: string | number | bigint | null) => setValues((old) => ({ ...old, [key]: String(v ?? '') }));
  async function keep() {
    const next: Plain = { ...l.houseRules, reasons, limits: { ...l.houseRules.limits } };
    for (const r of list) {
      const text = values[r.key] ?? '';
      const value = texts.has(r.key) || (r.choices && r.key !== 'groups') ? text : text.trim() === '' ? Number.NaN : Number(text);
      if (r.key.startsWith('limits.')) (next.limits as Plain)[r.key.slice(7)] = value;
      else next[r.key] = value;
    }
    setWrong(undefined);
    try {
      await must(api.PUT('/house-rules', { body: { rules: next as HouseRules, reason } }));
      for (const key of [['library'], ['house-rules'], ['joint'], ['tools']]) void qc.invalidateQueries({ queryKey: key });
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
        Plans made before are told to be stale and are made anew when work begins. Work that has begun goes on with what it began with.
      </p>
      <div className="rules-form">
        {list.map((r) => (
          <div key={r.key} className={r.why ? 'school' : ''}>
            {r.choices ? (
              <Select
                label={r.name}
                data={r.choices.map(([value, label]) => ({ value, label }))}
                value={values[r.key] || null}
                onChange={(v) => set(r.key, v)}
                error={err(r.key)}
                allowDeselect={false}
              />
            ) : texts.has(r.key) ? (
              <TextInput
                label={r.name}
                value={values[r.key] ?? ''}
                onChange={(e) => set(r.key, e.currentTarget.value)}
                error={err(r.key)}
              />
            ) : (
              <Figure
                label={r.unit ? `${r.name}, ${r.unit}` : r.name}
                value={values[r.key] ? Number(values[r.key]) : ''}
                onChange={(v) => set(r.key, v)}
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
