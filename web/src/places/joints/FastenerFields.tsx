import { Autocomplete, Select, Switch, TextInput } from '@mantine/core';
import { useState } from 'react';
import { type Family, type Fasteners, lubricantChoices, useLibrary } from '../../api/client';
import { conditionWords } from '../../kit/conditions';
import { Figure } from '../../kit/Figure';
import { LayoutEditor } from './LayoutEditor';

type Kin = Family['fasteners'][number];

interface Props {
  kin: Kin; // the group as the procedure has it
  value: Fasteners;
  first: boolean;
  engineer: boolean;
  err: (...names: string[]) => string | undefined;
  onChange: (change: Partial<Fasteners>) => void;
}

const units = [
  { value: 'N_m', label: 'N·m' },
  { value: 'ft_lbf', label: 'ft·lbf' },
  { value: 'in_lbf', label: 'in·lbf' },
  { value: 'kgf_m', label: 'kgf·m' },
];

const n = (v: number | string) => (typeof v === 'number' ? v : 0); // '' while it is empty

const endsAt: Record<string, string> = {
  snug: 'Snug only: no figure is needed.',
  hand: 'Hand-tight: no figure is needed.',
  shape: 'Until a shape is reached: no figure is needed.',
  effort: 'An effort window: its figure stands above.',
  none: 'Must not be torqued.',
};

/** What the document demands of one group of fasteners. */
export function FastenerFields({ kin, value: f, first, engineer, err, onChange }: Props) {
  const lib = useLibrary();
  const [drawing, setDrawing] = useState(!!f.layout);
  const t = f.target;
  const target = (change: Partial<Fasteners['target']>) => onChange({ target: { ...t, ...change } });
  const torque = kin.target === 'torque';
  const bolted = torque || kin.target === 'stretch';
  const circle = (kin.layout.kind ?? 'circle') === 'circle' && !f.layout;
  const table = lib.data?.tables.find((x) => x.code === t.table);
  return (
    <>
      <div className="fields" style={{ margin: '6px 0 12px' }}>
        {circle && (
          <Figure
            label="Number of bolts"
            value={f.bolts || ''}
            onChange={(v) => onChange({ bolts: n(v) })}
            error={err('bolts')}
          />
        )}
        {bolted && (
          <>
            <Autocomplete
              label="Thread"
              placeholder="M24, M20x1.5, 1 1/8-8"
              value={f.thread}
              onChange={(v) => onChange({ thread: v })}
              data={(lib.data?.threads ?? []).map((x) => x.text)}
              limit={12}
              error={err('thread')}
            />
            <Autocomplete
              label="Material, class or grade"
              placeholder="8.8, B7"
              value={f.material}
              onChange={(v) => onChange({ material: v })}
              data={[...new Set((lib.data?.materials ?? []).map((m) => m.grade))]}
              error={err('material')}
            />
            <Figure
              unit="mm"
              label="Length, mm"
              value={f.lengthMm ?? ''}
              onChange={(v) => onChange({ lengthMm: n(v) })}
            />
            <Figure
              unit="mm"
              label="Clamp length, mm"
              description="between the faces of the nuts; for a tensioner"
              value={f.clampMm ?? ''}
              onChange={(v) => onChange({ clampMm: n(v) })}
            />
          </>
        )}
        {circle && (
          <Figure
            unit="mm"
            label="Bolt circle, mm"
            value={f.boltCircleMm ?? ''}
            onChange={(v) => onChange({ boltCircleMm: n(v) })}
          />
        )}
        {!f.layout && (
          <TextInput
            label="Seen from"
            placeholder={kin.layout.seenFrom || 'the pump side'}
            value={f.seenFrom ?? ''}
            onChange={(e) => onChange({ seenFrom: e.currentTarget.value })}
          />
        )}
        {bolted && (
          <Select
            label="Lubricant the figure holds for"
            description={kin.condition ? `the procedure wants them ${conditionWords(kin.condition)}` : undefined}
            value={f.lubricant || null}
            onChange={(v) => onChange({ lubricant: v ?? '' })}
            searchable
            data={[
              ...lubricantChoices(lib.data?.lubricants),
              { value: 'not_named', label: 'the document names none', disabled: false },
            ]}
            error={err('lubricant')}
          />
        )}
      </div>
      {engineer && (
        <>
          <Switch
            label={first ? 'Draw the layout' : `Draw the layout of ${kin.name.toLowerCase()}`}
            checked={drawing}
            mb={8}
            onChange={(e) => {
              const on = e.currentTarget.checked;
              setDrawing(on);
              const count = f.bolts || kin.layout.count || 1;
              onChange({
                layout: on
                  ? {
                      ...kin.layout,
                      count,
                      startDeg: kin.layout.startDeg || 180 / count,
                      seenFrom: f.seenFrom ?? kin.layout.seenFrom,
                    }
                  : undefined,
              });
            }}
          />
          {drawing && f.layout && (
            <LayoutEditor
              layout={f.layout}
              circleMm={f.boltCircleMm}
              onChange={(layout) => onChange({ layout, bolts: layout.count })}
            />
          )}
          {err('offsets', 'points', 'columns', 'rows', 'startDeg', 'layout') && (
            <p className="wrong">{err('offsets', 'points', 'columns', 'rows', 'startDeg', 'layout')}</p>
          )}
        </>
      )}
      {endsAt[kin.target] && (
        <p className="until">
          <b>{endsAt[kin.target]}</b> {kin.targetWhy}
        </p>
      )}
      <div className="fields" style={{ margin: '6px 0 12px' }}>
        {torque && (
          <Select
            label="Target stated as"
            value={t.form}
            onChange={(v) => target({ form: (v ?? 'torque') as typeof t.form })}
            data={[
              { value: 'torque', label: 'torque, nominal and tolerance' },
              { value: 'range', label: 'torque, minimum and maximum' },
              { value: 'lookup', label: 'a line of a table' },
              { value: 'stress', label: 'stress in the bolt' },
              { value: 'percent_yield', label: 'percent of yield' },
              { value: 'not_given', label: 'not given: to be supplied' },
            ]}
          />
        )}
        {t.form === 'torque' && (
          <>
            <Figure
              label="Torque"
              value={t.nominal ?? ''}
              onChange={(v) => target({ nominal: n(v) })}
              error={err('target')}
            />
            <Figure
              label="Lower tolerance, %"
              value={t.minusPct ?? ''}
              onChange={(v) => target({ minusPct: n(v) })}
              error={err('tolerance')}
            />
            <Figure label="Upper tolerance, %" value={t.plusPct ?? ''} onChange={(v) => target({ plusPct: n(v) })} />
          </>
        )}
        {t.form === 'range' && (
          <>
            <Figure
              label="Minimum"
              value={t.min ?? ''}
              onChange={(v) => target({ min: n(v) })}
              error={err('targetMin')}
            />
            <Figure
              label="Maximum"
              value={t.max ?? ''}
              onChange={(v) => target({ max: n(v) })}
              error={err('targetMax')}
            />
          </>
        )}
        {(t.form === 'torque' || t.form === 'range') && (
          <Select
            label="Unit as the document writes it"
            value={t.unit ?? 'N_m'}
            onChange={(v) => target({ unit: v ?? 'N_m' })}
            data={units}
            error={err('unit')}
          />
        )}
        {t.form === 'lookup' && (
          <>
            <Select
              label="Table"
              placeholder={lib.data?.tables.length ? 'choose' : 'none yet: enter one in the Library'}
              value={t.table ?? null}
              onChange={(v) => target({ table: v ?? '', keys: [] })}
              data={(lib.data?.tables ?? []).map((x) => ({ value: x.code, label: x.name }))}
              error={err('table')}
            />
            {table?.keyNames.map((k, i) => (
              <Select
                key={k}
                label={k}
                value={t.keys?.[i] ?? null}
                searchable
                onChange={(v) =>
                  target({ keys: table.keyNames.map((_, j) => (j === i ? (v ?? '') : (t.keys?.[j] ?? ''))) })
                }
                data={[
                  ...new Set(
                    table.rows
                      .filter((r) => r.keys.every((x, j) => j >= i || x === t.keys?.[j]))
                      .map((r) => r.keys[i] ?? ''),
                  ),
                ]}
                error={i === 0 ? err('keys') : undefined}
              />
            ))}
          </>
        )}
        {t.form === 'stress' && (
          <Figure
            unit="MPa"
            label="Stress, MPa"
            value={t.stressMPa ?? ''}
            onChange={(v) => target({ stressMPa: n(v) })}
            error={err('stress')}
          />
        )}
        {t.form === 'percent_yield' && (
          <Figure
            label="Percent of yield"
            value={t.percent ?? ''}
            onChange={(v) => target({ percent: n(v) })}
            error={err('percent')}
          />
        )}
        {t.form === 'stretch' && (
          <>
            <Figure
              unit="mm"
              label="Elongation, mm"
              value={t.stretchMm ?? ''}
              onChange={(v) => target({ stretchMm: n(v) })}
              error={err('stretchMm')}
            />
            <Figure
              label="Tolerance, %"
              value={t.plusPct ?? ''}
              onChange={(v) => target({ plusPct: n(v), minusPct: n(v) })}
              error={err('tolerance')}
            />
          </>
        )}
        {kin.patterns.includes('chosen') && (
          <TextInput
            label="Order written down"
            placeholder="1 5 3 7 2 6 4 8"
            value={(f.order ?? []).join(' ')}
            onChange={(e) =>
              onChange({
                order: e.currentTarget.value
                  .split(/[\s,;]+/)
                  .map(Number)
                  .filter(Boolean),
              })
            }
            error={err('order')}
          />
        )}
      </div>
    </>
  );
}
