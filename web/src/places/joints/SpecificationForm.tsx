import { Autocomplete, NumberInput, Select, Textarea, TextInput } from '@mantine/core';
import { useState } from 'react';
import { lubricantChoices, Refused, type Specification, useLibrary } from '../../api/client';
import { useSession } from '../../api/session';

interface FormProps {
  start: Specification;
  verb: string;
  askReason?: boolean;
  onDone: (s: Specification, reason: string) => Promise<void>;
}

const units = [
  { value: 'N_m', label: 'N·m' },
  { value: 'ft_lbf', label: 'ft·lbf' },
  { value: 'in_lbf', label: 'in·lbf' },
  { value: 'kgf_m', label: 'kgf·m' },
];

export const emptySpecification: Specification = {
  version: 0,
  document: '',
  revision: '',
  bolts: 8,
  thread: '',
  material: '',
  lubricant: '',
  target: { form: 'torque', nominal: 0, minusPct: 5, plusPct: 5, unit: 'N_m' },
};

/** The specification as the document states it. What is refused is said at its field, and nothing is lost. */
export function SpecificationForm({ start, verb, askReason, onDone }: FormProps) {
  const [s, setS] = useState<Specification>(start);
  const [reason, setReason] = useState('');
  const [wrong, setWrong] = useState<Error>();
  const [busy, setBusy] = useState(false);
  const lib = useLibrary();
  const { person } = useSession();
  const set = (change: Partial<Specification>) => setS((old) => ({ ...old, ...change }));
  const target = (change: Partial<Specification['target']>) => setS((old) => ({ ...old, target: { ...old.target, ...change } }));
  const field = wrong instanceof Refused ? wrong.field : undefined;
  const err = (...names: string[]) => (field && names.includes(field) ? (wrong?.message ?? '') : undefined);
  const known = [
    'bolts',
    'thread',
    'material',
    'lubricant',
    'serviceClass',
    'target',
    'targetMin',
    'targetMax',
    'tolerance',
    'stress',
    'percent',
    'reason',
    'document',
  ];
  const engineer = person?.role === 'engineer' || person?.role === 'administrator';
  async function done() {
    setBusy(true);
    setWrong(undefined);
    try {
      await onDone(s, reason);
    } catch (e) {
      setWrong(e as Error);
    } finally {
      setBusy(false);
    }
  }
  const n = (v: number | string) => (typeof v === 'number' ? v : Number(v) || 0);
  const t = s.target;
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        void done();
      }}
    >
      <div className="rule">Where it comes from</div>
      <div className="fields" style={{ margin: '6px 0 12px' }}>
        <TextInput
          label="Document"
          value={s.document}
          onChange={(e) => set({ document: e.currentTarget.value })}
          error={err('document')}
          description="none leaves the target without a source"
        />
        <TextInput label="Revision" value={s.revision} onChange={(e) => set({ revision: e.currentTarget.value })} />
        <TextInput label="Page or table" value={s.page ?? ''} onChange={(e) => set({ page: e.currentTarget.value })} />
        {!s.document && engineer && (
          <TextInput
            label="Why work may go on without a document"
            value={s.noSourceWhy ?? ''}
            onChange={(e) => set({ noSourceWhy: e.currentTarget.value })}
            description="your name stands beside it"
          />
        )}
      </div>
      <div className="rule">The bolts</div>
      <div className="fields" style={{ margin: '6px 0 12px' }}>
        <NumberInput
          label="Number of bolts"
          value={s.bolts}
          onChange={(v) => set({ bolts: n(v) })}
          min={3}
          max={120}
          allowDecimal={false}
          error={err('bolts')}
        />
        <Autocomplete
          label="Thread"
          placeholder="M24, M20x1.5, 1 1/8-8"
          value={s.thread}
          onChange={(v) => set({ thread: v })}
          data={(lib.data?.threads ?? []).map((x) => x.text)}
          limit={12}
          error={err('thread')}
        />
        <Autocomplete
          label="Material, class or grade"
          placeholder="8.8, B7"
          value={s.material}
          onChange={(v) => set({ material: v })}
          data={[...new Set((lib.data?.materials ?? []).map((m) => m.grade))]}
          error={err('material')}
        />
        <NumberInput label="Length, mm" value={s.lengthMm ?? ''} onChange={(v) => set({ lengthMm: n(v) })} min={0} />
        <NumberInput
          label="Clamp length, mm"
          description="between the faces of the nuts; for a tensioner"
          value={s.clampMm ?? ''}
          onChange={(v) => set({ clampMm: n(v) })}
          min={0}
        />
        <NumberInput label="Bolt circle, mm" value={s.boltCircleMm ?? ''} onChange={(v) => set({ boltCircleMm: n(v) })} min={0} />
        <TextInput
          label="Seen from"
          placeholder="the pump side"
          value={s.seenFrom ?? ''}
          onChange={(e) => set({ seenFrom: e.currentTarget.value })}
        />
        <TextInput
          label="Flange size"
          placeholder="DN 400 PN 16"
          value={s.flangeSize ?? ''}
          onChange={(e) => set({ flangeSize: e.currentTarget.value })}
        />
        <Autocomplete
          label="Gasket"
          placeholder="as on the drawing, or a card of the Library"
          value={s.gasket ?? ''}
          onChange={(v) => set({ gasket: v })}
          data={[...new Set((lib.data?.gaskets ?? []).map((g) => g.name))]}
        />
        <Select
          label="Service"
          value={s.serviceClass || 'general'}
          onChange={(v) => set({ serviceClass: v === 'general' ? '' : (v ?? '') })}
          data={(lib.data?.services ?? ['general']).map((x) => ({ value: x, label: x.replaceAll('_', ' ') }))}
          description="the lubricant must be documented for it"
          error={err('serviceClass')}
        />
        <Select
          label="Lubricant the figure holds for"
          value={s.lubricant || null}
          onChange={(v) => set({ lubricant: v ?? '' })}
          searchable
          data={lubricantChoices(lib.data?.lubricants)}
          error={err('lubricant')}
        />
      </div>
      <div className="rule">The target</div>
      <div className="fields" style={{ margin: '6px 0 12px' }}>
        <Select
          label="Stated as"
          value={t.form}
          onChange={(v) => target({ form: (v ?? 'torque') as typeof t.form })}
          data={[
            { value: 'torque', label: 'torque, nominal and tolerance' },
            { value: 'range', label: 'torque, minimum and maximum' },
            { value: 'stress', label: 'stress in the bolt' },
            { value: 'percent_yield', label: 'percent of yield' },
            { value: 'not_given', label: 'not given: to be supplied' },
          ]}
        />
        {t.form === 'torque' && (
          <>
            <NumberInput label="Torque" value={t.nominal ?? ''} onChange={(v) => target({ nominal: n(v) })} min={0} error={err('target')} />
            <NumberInput
              label="Tolerance under, %"
              value={t.minusPct ?? ''}
              onChange={(v) => target({ minusPct: n(v) })}
              min={0}
              max={50}
              error={err('tolerance')}
            />
            <NumberInput label="Tolerance over, %" value={t.plusPct ?? ''} onChange={(v) => target({ plusPct: n(v) })} min={0} max={50} />
          </>
        )}
        {t.form === 'range' && (
          <>
            <NumberInput label="Minimum" value={t.min ?? ''} onChange={(v) => target({ min: n(v) })} min={0} error={err('targetMin')} />
            <NumberInput label="Maximum" value={t.max ?? ''} onChange={(v) => target({ max: n(v) })} min={0} error={err('targetMax')} />
          </>
        )}
        {(t.form === 'torque' || t.form === 'range') && (
          <Select
            label="Unit as the document writes it"
            value={t.unit ?? 'N_m'}
            onChange={(v) => target({ unit: v ?? 'N_m' })}
            data={units}
          />
        )}
        {t.form === 'stress' && (
          <NumberInput
            label="Stress, MPa"
            value={t.stressMPa ?? ''}
            onChange={(v) => target({ stressMPa: n(v) })}
            min={0}
            error={err('stress')}
          />
        )}
        {t.form === 'percent_yield' && (
          <NumberInput
            label="Percent of yield"
            value={t.percent ?? ''}
            onChange={(v) => target({ percent: n(v) })}
            min={0}
            max={100}
            error={err('percent')}
          />
        )}
        <NumberInput
          label="Gap may spread, mm"
          description="only if the document says so"
          value={s.proofGapMm ?? ''}
          onChange={(v) => set({ proofGapMm: n(v) })}
          min={0}
          step={0.05}
        />
      </div>
      {askReason && (
        <Textarea
          label="What changed, and why"
          value={reason}
          onChange={(e) => setReason(e.currentTarget.value)}
          error={err('reason')}
          autosize
          minRows={2}
          maxLength={500}
          mb={10}
        />
      )}
      {wrong && (!field || !known.includes(field)) && (
        <p className="wrong" role="alert">
          {wrong.message}
        </p>
      )}
      <button type="submit" className="btn now wide" disabled={busy}>
        {verb}
      </button>
    </form>
  );
}
