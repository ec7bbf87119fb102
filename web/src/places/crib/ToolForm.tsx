import { Checkbox, Select, Textarea, TextInput } from '@mantine/core';
import { api, must, type Tool, useKinds } from '../../api/client';
import { Figure } from '../../kit/Figure';
import { useSheet } from '../../kit/sheet';
import { blank, chartText, lines, number, numbers, pair, pointText, units, wrenches } from './toolFields';

/** The data of a tool: what its kind needs, no more. */
export function ToolForm({
  start,
  fixedTag,
  onDone,
}: {
  start?: Tool;
  fixedTag?: boolean;
  onDone: (tag: string) => void;
}) {
  const kinds = useKinds();
  const sheet = useSheet(
    { tool: start ?? blank, chart: chartText(start ?? blank), points: pointText(start ?? blank), why: '' },
    keep,
  );
  const t = sheet.values.tool;
  const set = (change: Partial<Tool>) => sheet.put((old) => ({ tool: { ...old.tool, ...change } }));
  const k = kinds.data?.find((x) => x.kind === t.kind);
  const err = sheet.refusalOf;
  if (!k) return <p className="dim">{kinds.isError ? (kinds.error as Error).message : 'fetching the kinds of tool'}</p>;
  const between = k.group === 'between';
  const wrench = wrenches.includes(k.kind);
  const texts: [
    boolean,
    'maker' | 'model' | 'serial' | 'drive' | 'driveIn' | 'lock' | 'storageRule' | 'place' | 'certificate',
    string,
    string,
  ][] = [
    [true, 'maker', 'Maker', ''],
    [true, 'model', 'Model', ''],
    [true, 'serial', 'Serial', ''],
    [between, 'driveIn', 'Square towards the hand', '1/2 in'],
    [
      wrench || k.kind === 'multiplier' || k.kind === 'extension' || k.kind === 'hydraulic_wrench',
      'drive',
      'Square towards the nut',
      '3/4 in',
    ],
    [wrench, 'lock', 'Lock', 'end knob'],
    [wrench, 'storageRule', 'How it is put away', 'Wind to the lowest mark, never below it, then lock.'],
    [true, 'place', 'Place', 'crib, rack 2'],
    [k.dated, 'certificate', 'Certificate', ''],
  ];
  const nums = numbers(k);
  const gear = t.gear ?? { nominal: 0, measured: 0, testPct: 1, armMm: 0, sameDirection: true };
  async function keep({ tool: t, chart, points, why }: { tool: Tool; chart: string; points: string; why: string }) {
    const body: Tool = { ...t, tag: t.tag.trim() };
    const scaled = k?.scale !== '';
    body.unit = scaled
      ? units[k?.scale ?? '']?.some(([u]) => u === t.unit)
        ? t.unit
        : (units[k?.scale ?? '']?.[0]?.[0] ?? '')
      : '';
    if (t.kind === 'preset') body.ratedMin = t.ratedMax;
    if (t.kind !== 'click' && t.kind !== 'screwdriver') body.printedMin = t.kind === 'preset' ? t.ratedMax : t.ratedMin;
    body.gear = t.kind === 'multiplier' ? gear : undefined;
    body.chart =
      t.kind === 'hydraulic_wrench'
        ? lines(chart).map((l) => ({ pressureMPa: number(pair(l)[0]), torqueNm: number(pair(l)[1]) }))
        : undefined;
    body.points =
      scaled && points.trim()
        ? lines(points).map((l) => ({
            set: number(pair(l)[0]),
            actual: number(pair(l)[1]),
            anticlockwise: /anti/.test(l) || undefined,
          }))
        : undefined;
    const bad = [
      ...(body.chart ?? []).flatMap((p) => [p.pressureMPa, p.torqueNm]),
      ...(body.points ?? []).flatMap((p) => [p.set, p.actual]),
    ].some((v) => !Number.isFinite(v));
    if (bad) {
      const text = 'A line is not two numbers. Write two numbers with a blank between them on each line.';
      sheet.refuse(body.chart ? 'chart' : 'points', text);
      return;
    }
    await must(
      api.PUT('/tools/{tag}', {
        params: { path: { tag: body.tag || '-' }, ...(why ? { query: { reason: why } } : {}) },
        body,
      }),
    );
    onDone(body.tag);
  }
  const n = (v: string | number) => (typeof v === 'number' ? v : 0); // '' while it is empty
  return (
    <form onSubmit={sheet.submit}>
      <div className="fields">
        <Select
          label="Kind"
          value={t.kind}
          searchable
          disabled={!!fixedTag}
          onChange={(v) => v && set({ kind: v })}
          data={(kinds.data ?? []).map((x) => ({ value: x.kind, label: x.word }))}
          error={err('kind')}
        />
        <TextInput
          label="Tag"
          value={t.tag}
          disabled={!!fixedTag}
          onChange={(e) => set({ tag: e.currentTarget.value.trim().toUpperCase() })}
          error={err('tag')}
        />
        {k.scale !== '' && (
          <Select
            label="Unit of the scale"
            value={t.unit}
            onChange={(v) => set({ unit: v ?? '' })}
            data={(units[k.scale] ?? []).map(([value, label]) => ({ value, label }))}
            error={err('unit')}
          />
        )}
        {wrench && (
          <>
            <Select
              label="Unit of its other scale"
              value={t.secondUnit ?? ''}
              onChange={(v) => set({ secondUnit: v || undefined })}
              data={[
                { value: '', label: 'one scale only' },
                ...(units.torque ?? []).map(([value, label]) => ({ value, label })),
              ]}
              error={err('secondUnit')}
            />
            <Select
              label="Measures"
              value={t.directions ?? ''}
              onChange={(v) => set({ directions: v || undefined })}
              data={[
                { value: '', label: 'not written down' },
                { value: 'both', label: 'both ways' },
                { value: 'clockwise', label: 'clockwise only' },
              ]}
              error={err('directions')}
            />
          </>
        )}
        {nums.map(([f, label]) => (
          <Figure key={f} label={label} value={t[f] || ''} onChange={(v) => set({ [f]: n(v) })} error={err(f)} />
        ))}
        {k.kind === 'multiplier' && (
          <>
            <Figure
              label="Nominal gear ratio"
              value={gear.nominal || ''}
              onChange={(v) => set({ gear: { ...gear, nominal: n(v) } })}
              error={err('gear.nominal') ?? err('gear')}
            />
            <Figure
              label="Measured torque ratio"
              value={gear.measured || ''}
              onChange={(v) => set({ gear: { ...gear, measured: n(v) } })}
              error={err('gear.measured')}
            />
            <Figure
              label="Measured ratio is good to, ± %"
              value={gear.testPct || ''}
              onChange={(v) => set({ gear: { ...gear, testPct: n(v) } })}
              error={err('gear.testPct')}
            />
            <Figure
              unit="mm"
              label="Reaction arm, mm"
              value={gear.armMm || ''}
              onChange={(v) => set({ gear: { ...gear, armMm: n(v) } })}
              error={err('gear.armMm')}
            />
          </>
        )}
        {texts
          .filter(([on]) => on)
          .map(([, f, label, placeholder]) => (
            <TextInput
              key={f}
              label={label}
              placeholder={placeholder}
              value={t[f] ?? ''}
              onChange={(e) => set({ [f]: e.currentTarget.value })}
              error={err(f)}
            />
          ))}
        <TextInput
          type="date"
          label={k.dated ? 'Calibrated on' : 'Inspected on'}
          value={t.calibratedOn}
          onChange={(e) => set({ calibratedOn: e.currentTarget.value })}
          error={err('calibratedOn')}
        />
        <TextInput
          type="date"
          label={k.dated ? 'Calibration ends' : 'Inspection ends'}
          value={t.calibrationEnds}
          onChange={(e) => set({ calibrationEnds: e.currentTarget.value })}
          error={err('calibrationEnds')}
        />
      </div>
      <div style={{ display: 'grid', gap: 8, margin: '10px 0' }}>
        {k.kind === 'multiplier' && (
          <>
            <Checkbox
              label="Input and output turn the same way"
              checked={gear.sameDirection}
              onChange={(e) => set({ gear: { ...gear, sameDirection: e.currentTarget.checked } })}
            />
            <Checkbox
              label="Has an anti-wind-back stop"
              checked={!!gear.stops}
              onChange={(e) => set({ gear: { ...gear, stops: e.currentTarget.checked } })}
            />
          </>
        )}
        {k.kind === 'socket' && (
          <Checkbox
            label="Rated for power: impact, multiplier, hydraulic"
            checked={!!t.impact}
            onChange={(e) => set({ impact: e.currentTarget.checked })}
          />
        )}
        {(wrench || k.group === 'hydraulic') && (
          <Checkbox
            label="May be used for loosening"
            checked={t.mayLoosen}
            onChange={(e) => set({ mayLoosen: e.currentTarget.checked })}
          />
        )}
      </div>
      {k.kind === 'hydraulic_wrench' && (
        <Textarea
          label="Chart of this tool: MPa and N·m, one pair a line"
          placeholder={'10 645\n40 2560'}
          {...sheet.field('chart')}
          autosize
          minRows={3}
        />
      )}
      {k.scale !== '' && (
        <Textarea
          label="Points of the certificate: shown and true, a line each"
          description="Write anticlockwise behind those measured the other way."
          placeholder={'40 40.6\n120 121.1'}
          {...sheet.field('points')}
          autosize
          minRows={2}
        />
      )}
      {fixedTag && (
        <TextInput
          label="Why it changes"
          description="Needed when certificate or range change. The version before is kept."
          {...sheet.field('why', 'reason')}
          maxLength={300}
          mt={10}
        />
      )}
      {sheet.rest() && (
        <p className="wrong" role="alert">
          {sheet.rest()}
        </p>
      )}
      <button type="submit" className="btn now wide" style={{ marginTop: 12 }}>
        Keep the tool
      </button>
    </form>
  );
}
