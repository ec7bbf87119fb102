import { Select } from '@mantine/core';
import { type FastenerGroup, lubricantChoices, type Plan, useLibrary } from '../../api/client';
import { wholeOf } from '../../kit/numbers';
import { ToolString } from '../../kit/ToolString';
import { firstOf } from '../../rosette/GroupRosette';
import { schemeData } from './orders';
import type { Reading } from './useRead';

/** What may be chosen differently; each change re-plans at once. */
export function ReadChoices({ r, plan, g }: { r: Reading; plan: Plan; g: FastenerGroup }) {
  const { picked, pulled, stages, patternData, refused, chosen, set } = r;
  return (
    <>
      <div className="choices">
        <Select
          label="Stages"
          value={picked.scheme ?? null}
          onChange={(v) => v && set({ scheme: v })}
          disabled={!!pulled || stages.length === 0}
          data={schemeData}
        />
        {g.layout.count > 2 && (
          <Select
            label="Order"
            value={`${picked.pattern}${picked.sectors === 8 ? '8' : ''}`}
            onChange={(v) => v && set({ pattern: v.replace('8', ''), sectors: v.endsWith('8') ? 8 : 4 })}
            disabled={!!pulled}
            data={patternData.map((p) => ({ ...p, disabled: p.value === 'group8' && g.layout.count < 16 }))}
            description={refused}
          />
        )}
        <Select
          label="Numbers"
          value={picked.numbering ?? null}
          onChange={(v) => v && set({ numbering: v })}
          disabled={!!pulled}
          data={[
            { value: 'place', label: 'by place' },
            { value: 'order', label: 'in order of tightening' },
          ]}
        />
        <Select
          label="Tools"
          value={picked.wrench ?? null}
          onChange={(v) => v && set({ wrench: v })}
          disabled={!!pulled}
          placeholder="nothing fits"
          comboboxProps={{ width: 460, position: 'bottom-end' }}
          data={(g.offers ?? []).map((o) => ({
            value: o.tags,
            label: `${o.name}${o.usable ? '' : ' (no)'}`,
            disabled: !o.settings.length,
          }))}
          renderOption={({ option }) => {
            const o = (g.offers ?? []).find((x) => x.tags === option.value);
            return (
              <span style={{ fontSize: 15 }}>
                <b>{o?.name}</b>{' '}
                <span className={o?.usable ? '' : 'hld'}>
                  {o?.usable
                    ? `${o.pieces[0]?.text}. ${o.reasons.slice(0, 1).join(' ')}${o.busy ? ` ${o.busy}.` : ''}`
                    : o?.problems[0]}
                </span>
              </span>
            );
          }}
        />
        {!g.layout.kind && g.group === firstOf(plan).group && (
          <Select
            label="At once"
            value={String(plan.choices.together || 1)}
            onChange={(v) => v && r.together(wholeOf(v))}
            disabled={!!pulled}
            data={[1, 2, 3, 4].map((n) => ({
              value: String(n),
              label: n === 1 ? 'one tool' : `${n} tools`,
              disabled: g.layout.count % n !== 0,
            }))}
          />
        )}
        <LubricantSelect
          plan={plan}
          value={picked.lubricant}
          disabled={!!pulled}
          onChange={(lubricant) => set({ lubricant })}
        />
      </div>
      {chosen && chosen.pieces.length > 1 && <ToolString pieces={chosen.pieces} />}
      {chosen && chosen.method !== 'wrench' && (
        <ul className="dim" style={{ margin: '0 0 6px' }}>
          {chosen.reasons.slice(1, 4).map((r) => (
            <li key={r}>{r}</li>
          ))}
        </ul>
      )}
    </>
  );
}

function LubricantSelect({
  plan,
  value,
  disabled,
  onChange,
}: {
  plan: Plan;
  value: string | undefined;
  disabled: boolean;
  onChange: (code: string) => void;
}) {
  const lib = useLibrary();
  return (
    <Select
      label="Lubricant"
      value={value ?? null}
      onChange={(v) => v && onChange(v)}
      disabled={disabled}
      searchable
      data={lubricantChoices(lib.data?.lubricants ?? plan.lubricantCards)}
    />
  );
}
