import { Modal, Select, Textarea } from '@mantine/core';
import { useDisclosure, useHotkeys } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { useNavigate } from '@tanstack/react-router';
import { useEffect, useState } from 'react';
import { api, type Choices, type JointDetail, lubricantChoices, must, type Plan, type Specification, useLibrary } from '../../api/client';
import { type LocalRun, runStore } from '../../api/outbox';
import { useSession } from '../../api/session';
import { Findings } from '../../kit/Findings';
import { SpreadRuler } from '../../kit/LimitRuler';
import { besideTorque, num, unitText, when } from '../../kit/numbers';
import { ToolString } from '../../kit/ToolString';
import { WorkingSheet } from '../../kit/Working';
import { Rosette } from '../../rosette/Rosette';
import { SpecificationForm } from '../joints/SpecificationForm';
import { BoltSection } from './BoltSection';

interface ReadProps {
  joint: JointDetail | undefined;
  run: LocalRun;
  onChanged: () => void;
  bench?: { torque: number; from: string } | undefined; // a torque worked out on the bench, to become the target
  onBenchDone?: () => void;
}

const targetText = (s: Specification) => {
  const t = s.target;
  switch (t.form) {
    case 'torque':
      return `${num(t.nominal ?? 0)} ${unitText(t.unit ?? 'N_m')} −${num(t.minusPct ?? 0)} % +${num(t.plusPct ?? 0)} %`;
    case 'range':
      return `${num(t.min ?? 0)} to ${num(t.max ?? 0)} ${unitText(t.unit ?? 'N_m')}`;
    case 'stress':
      return `${num(t.stressMPa ?? 0)} MPa in the bolt`;
    case 'percent_yield':
      return `${num(t.percent ?? 0)} % of the bolt's yield`;
  }
  return 'to be supplied';
};

/** What the document demands, beside the plan made from it. Changing a choice re-plans at once. */
export function Read({ joint, run, onChanged, bench, onBenchDone }: ReadProps) {
  const begun = !!run.view;
  const [choices, setChoices] = useState<Choices>({});
  const [working, work] = useDisclosure(false);
  const [editing, edit] = useDisclosure(!!bench, { onClose: onBenchDone });
  const [approving, approve] = useDisclosure(false);
  const [wrong, setWrong] = useState('');
  const [busy, setBusy] = useState(false);
  const { person } = useSession();
  const navigate = useNavigate();
  const tag = joint?.joint.tag ?? run.view?.joint.tag ?? '';
  const preview = useQuery({
    queryKey: ['joint', tag, 'plan', choices],
    queryFn: () => must(api.POST('/joints/{tag}/plan-preview', { params: { path: { tag } }, body: choices })),
    enabled: Object.keys(choices).length > 0,
    placeholderData: (last) => last,
    retry: false,
  });
  const changed = Object.keys(choices).length > 0;
  const base = begun && !changed ? run.view?.plan : joint?.plan;
  const plan: Plan | undefined = changed ? preview.data : base;
  const problem = changed && preview.isError ? (preview.error as Error).message : (joint?.planError ?? '');
  const pulled = run.view?.entries.some((e) => e.event.kind === 'pulled');
  const engineer = person?.role === 'engineer' || person?.role === 'administrator';
  useHotkeys([['w', work.toggle]]);
  useEffect(() => setWrong(''), []);

  async function begin(reason: string) {
    setBusy(true);
    setWrong('');
    try {
      if (begun) {
        await must(api.POST('/joints/{tag}/plans', { params: { path: { tag } }, body: { choices, reason } }));
        if (run.view) await runStore(run.view.id).refresh();
        setChoices({});
      } else {
        const view = await must(api.POST('/joints/{tag}/runs', { params: { path: { tag } }, body: { choices, reason } }));
        await runStore(view.id).put(view);
      }
      onChanged();
      approve.close();
      void navigate({ to: '/joints/$tag', params: { tag }, search: {} });
    } catch (e) {
      setWrong((e as Error).message);
    } finally {
      setBusy(false);
    }
  }
  const press = () => (plan?.needsApproval.length ? approve.open() : void begin(''));
  const stops = plan?.findings.filter((f) => f.severity === 'stop') ?? [];
  const ready = !!plan?.wrench && plan.toBeSupplied.length === 0 && stops.length === 0;
  useHotkeys([['Enter', () => !begun && ready && !busy && press()]]);
  const spec = plan?.specification ?? joint?.versions[0]?.specification;
  const chosen = plan?.offers?.find((o) => o.tags === plan.choices.wrench);
  const set = (c: Choices) => setChoices((old) => ({ ...old, ...c }));

  return (
    <div className="read">
      <section className="read-plan grid-bg">
        {plan && plan.passes.length > 0 ? (
          <>
            <span className="cap">seen from {plan.layout.seenFrom || 'the tool’s side'}, bolt 1 right of the top</span>
            <Rosette
              size={384}
              count={plan.layout.count}
              startDeg={plan.layout.startDeg}
              numbers={plan.chalk}
              label={`${tag} as planned: ${plan.layout.count} bolts, order ${plan.passes[0]?.order.join(', ')}`}
              planned={plan.passes
                .filter((p) => p.kind === 'stage')
                .map((p) => (plan.finalNm ? p.torqueNm / plan.finalNm : p.percent / 100))}
              order={plan.passes[0]?.order ?? []}
              tMax={1.1}
              scale={plan.passes
                .filter((p) => p.kind === 'stage')
                .map((p) => ({ t: plan.finalNm ? p.torqueNm / plan.finalNm : p.percent / 100, text: num(p.torqueNm, 0) }))}
            />
            <p className="under">
              order: <span className="m">{plan.passes[0]?.order.map((p) => plan.chalk[p - 1]).join(' ')}</span>
              <br />
              torque at the nut, N·m{plan.layout.diameterMm ? ` · bolt circle ${num(plan.layout.diameterMm)} mm` : ''}
            </p>
          </>
        ) : (
          <div className="empty">
            <svg width="120" height="120" viewBox="-60 -60 120 120" aria-hidden="true">
              <circle r="52" style={{ fill: 'none', stroke: 'var(--ink-3)', strokeWidth: 1.5, strokeDasharray: '6 5' }} />
            </svg>
            <span>No plan yet. {plan?.toBeSupplied[0] ?? problem}</span>
          </div>
        )}
      </section>
      <section className="read-spec">
        <div className="rule">
          What the document demands<span className="r">version {spec?.version ?? 0}</span>
        </div>
        {spec && (
          <>
            <BoltSection spec={spec} />
            <table className="t">
              <tbody>
                <Row
                  name="Document"
                  value={
                    spec.document
                      ? `${spec.document}${spec.revision ? `, revision ${spec.revision}` : ''}${spec.page ? `, ${spec.page}` : ''}`
                      : spec.noSourceWhy
                        ? `none; allowed by ${spec.noSourceBy}: ${spec.noSourceWhy}`
                        : 'to be supplied'
                  }
                  strong={!spec.document}
                />
                <Row name="Target" value={targetText(spec)} strong />
                <Row name="Holds for" value={plan?.lubricantCards.find((l) => l.code === spec.lubricant)?.name ?? spec.lubricant} />
                <Row
                  name="Bolts"
                  value={`${spec.bolts} × ${spec.thread} ${spec.material}${spec.lengthMm ? `, ${num(spec.lengthMm)} mm long` : ''}`}
                />
                <Row name="Gasket" value={spec.gasket || 'to be supplied'} />
                {plan && <Row name="Snug" value={plan.snug} />}
              </tbody>
            </table>
          </>
        )}
        {plan && plan.toBeSupplied.length > 0 && (
          <div className="finding stop">
            <b>To be supplied before work starts</b>
            {plan.toBeSupplied.map((t) => (
              <div key={t}>{t}</div>
            ))}
          </div>
        )}
        <div className="row-btns">
          {engineer && (
            <button type="button" className="btn sm" onClick={edit.open}>
              New version
            </button>
          )}
          {joint && joint.versions.length > 1 && (
            <span className="dim">
              {joint.versions.length} versions; the last by {joint.versions[0]?.madeBy}, {when(joint.versions[0]?.madeAt)}:{' '}
              {joint.versions[0]?.reason}
            </span>
          )}
        </div>
        <Findings list={plan?.findings ?? []} />
      </section>
      <section className="read-do">
        <div className="rule">The plan</div>
        {plan && plan.finalNm > 0 && (
          <>
            <div className="tq">
              <b className="m">{num(plan.finalNm, 0)}</b>
              <span>
                N·m at the nut
                <small>
                  {besideTorque(plan.finalNm, plan.houseRules)} gives {num(plan.preloadKN, 0)} kN in each bolt
                </small>
              </span>
              <button type="button" className="btn sm" onClick={work.toggle} aria-expanded={working}>
                {working ? 'close working' : 'show the working'}
              </button>
            </div>
            {working ? (
              <WorkingSheet workings={plan.workings} />
            ) : (
              <>
                <SpreadRuler
                  name="In each bolt"
                  text={`${num(plan.preloadKN, 0)} kN, ${num(plan.preloadMinKN, 0)} to ${num(plan.preloadMaxKN, 0)}`}
                  low={plan.stressMinMPa}
                  high={plan.stressMaxMPa}
                  value={plan.stressMPa}
                  band={[
                    (plan.houseRules.minYieldPct / 100) * plan.strength.yieldMPa,
                    (plan.houseRules.maxYieldPct / 100) * plan.strength.yieldMPa,
                  ]}
                  end={plan.strength.yieldMPa}
                  marks={[
                    [(plan.houseRules.minYieldPct / 100) * plan.strength.yieldMPa, `${num(plan.houseRules.minYieldPct)} %`],
                    [(plan.houseRules.maxYieldPct / 100) * plan.strength.yieldMPa, `${num(plan.houseRules.maxYieldPct)} % of yield`],
                    [plan.strength.yieldMPa, `yield ${num(plan.strength.yieldMPa, 0)}`],
                  ]}
                />
                <p className="dim" style={{ fontSize: 14 }}>
                  {num(plan.stressMPa, 0)} MPa in the bolt, {num(plan.yieldPct, 0)} % of yield; thick bar: the spread.
                </p>
              </>
            )}
            <div className="choices">
              <Select
                label="Stages"
                value={plan.choices.scheme ?? null}
                onChange={(v) => v && set({ scheme: v })}
                disabled={!!pulled}
                data={schemeData}
              />
              <Select
                label="Order"
                value={`${plan.choices.pattern}${plan.choices.groups === 8 ? '8' : ''}`}
                onChange={(v) => v && set({ pattern: v.replace('8', ''), groups: v.endsWith('8') ? 8 : 4 })}
                disabled={!!pulled}
                data={[
                  { value: 'cross', label: 'Cross' },
                  { value: 'group', label: 'Quarters' },
                  { value: 'group8', label: 'Eighths', disabled: plan.layout.count < 16 },
                ]}
              />
              <Select
                label="Numbers"
                value={plan.choices.numbering ?? null}
                onChange={(v) => v && set({ numbering: v })}
                disabled={!!pulled}
                data={[
                  { value: 'place', label: 'by place' },
                  { value: 'order', label: 'in order of tightening' },
                ]}
              />
              <Select
                label="Tools"
                value={plan.choices.wrench ?? null}
                onChange={(v) => v && set({ wrench: v })}
                disabled={!!pulled}
                placeholder="nothing fits"
                comboboxProps={{ width: 460, position: 'bottom-end' }}
                data={(plan.offers ?? []).map((o) => ({
                  value: o.tags,
                  label: `${o.name}${o.usable ? '' : ' (no)'}`,
                  disabled: !o.settings.length,
                }))}
                renderOption={({ option }) => {
                  const o = (plan.offers ?? []).find((x) => x.tags === option.value);
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
              <Select
                label="At once"
                value={String(plan.choices.together || 1)}
                onChange={(v) => set({ together: Number(v) > 1 ? Number(v) : undefined })}
                disabled={!!pulled}
                data={[1, 2, 3, 4].map((n) => ({
                  value: String(n),
                  label: n === 1 ? 'one tool' : `${n} tools`,
                  disabled: plan.layout.count % n !== 0,
                }))}
              />
              <LubricantSelect plan={plan} disabled={!!pulled} onChange={(lubricant) => set({ lubricant })} />
            </div>
            {chosen && chosen.pieces.length > 1 && <ToolString pieces={chosen.pieces} />}
            {chosen && chosen.method !== 'wrench' && (
              <ul className="dim" style={{ margin: '0 0 6px' }}>
                {chosen.reasons.slice(1, 4).map((r) => (
                  <li key={r}>{r}</li>
                ))}
              </ul>
            )}
            <table className="t passes">
              <thead>
                <tr>
                  <th>Pass</th>
                  <th className="n">at the nut</th>
                  <th className="n">set on {plan.wrench?.tag ?? 'wrench'}</th>
                  <th>order</th>
                </tr>
              </thead>
              <tbody>
                {plan.passes.map((p) => (
                  <tr key={p.number} title={p.why}>
                    <td>
                      {p.number} &nbsp;{p.kind === 'check' ? 'round, till none turns' : p.name}
                    </td>
                    <td className="n">{num(p.torqueNm, 0)}</td>
                    <td className="n">
                      {num(p.setting, 2)} {unitText(plan.wrench?.unit ?? 'N_m')}
                    </td>
                    <td>
                      {p.pattern === 'clockwise'
                        ? 'clockwise'
                        : p.pattern === 'group'
                          ? plan.choices.groups === 8
                            ? 'eighths'
                            : 'quarters'
                          : p.pattern}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
            <p className="dim">
              About {num(plan.minutes, 0)} min at the joint. {plan.cautions[1]}
            </p>
          </>
        )}
        {problem && <p className="wrong">{problem}</p>}
        {wrong && (
          <p className="wrong" role="alert">
            {wrong}
          </p>
        )}
        {plan && plan.needsApproval.length > 0 && (
          <div className="finding caution">
            <b>An engineer must approve</b>
            {plan.needsApproval.map((t) => (
              <div key={t}>{t}</div>
            ))}
          </div>
        )}
        <div className="row-btns end">
          {changed && (
            <button type="button" className="btn" onClick={() => setChoices({})}>
              Back to {begun ? 'the plan in use' : 'house rules'}
            </button>
          )}
          {!begun && (
            <button
              type="button"
              className="btn now"
              style={{ flex: 1, height: 60, fontSize: 19 }}
              disabled={!ready || busy}
              onClick={press}
            >
              Read it, then Ready <kbd>Enter</kbd>
            </button>
          )}
          {begun && changed && !pulled && (
            <button
              type="button"
              className="btn now"
              style={{ flex: 1, height: 60, fontSize: 19 }}
              disabled={!ready || busy}
              onClick={press}
            >
              Take this plan over
            </button>
          )}
        </div>
        {begun && pulled && <p className="dim">Bolts have been pulled on this plan; it does not change any more.</p>}
      </section>
      <Approve opened={approving} onClose={approve.close} plan={plan} busy={busy} wrong={wrong} engineer={engineer} onDone={begin} />
      {joint && spec && (
        <Modal opened={editing} onClose={edit.close} title={`New version of the specification, ${tag}`} size="xl">
          <SpecificationForm
            start={
              bench
                ? {
                    ...spec,
                    page: `Bench: ${bench.from}`,
                    target: {
                      form: 'torque',
                      nominal: bench.torque,
                      minusPct: spec.target.minusPct,
                      plusPct: spec.target.plusPct,
                      unit: 'N_m',
                    },
                  }
                : spec
            }
            verb="Keep as a new version"
            askReason
            onDone={async (s, reason) => {
              await must(api.POST('/joints/{tag}/specifications', { params: { path: { tag } }, body: { specification: s, reason } }));
              onChanged();
              edit.close();
            }}
          />
        </Modal>
      )}
    </div>
  );
}

const schemeData = [
  { value: '20_60_100', label: '20, 60, 100 %' },
  { value: '30_70_100', label: '30, 70, 100 %' },
  { value: '50_80_100', label: '50, 80, 100 %' },
  { value: 'thirds', label: 'thirds' },
  { value: 'snug_final', label: 'snug, full' },
];

function LubricantSelect({ plan, disabled, onChange }: { plan: Plan; disabled: boolean; onChange: (code: string) => void }) {
  const lib = useLibrary();
  return (
    <Select
      label="Lubricant"
      value={plan.choices.lubricant ?? null}
      onChange={(v) => v && onChange(v)}
      disabled={disabled}
      searchable
      data={lubricantChoices(lib.data?.lubricants ?? plan.lubricantCards)}
    />
  );
}

function Row({ name, value, strong }: { name: string; value: string; strong?: boolean }) {
  return (
    <tr>
      <td className="lab" style={{ width: 84 }}>
        {name}
      </td>
      <td style={strong ? { fontWeight: 700 } : undefined}>{value}</td>
    </tr>
  );
}

interface ApproveProps {
  opened: boolean;
  onClose: () => void;
  plan: Plan | undefined;
  busy: boolean;
  wrong: string;
  engineer: boolean;
  onDone: (reason: string) => void;
}

function Approve({ opened, onClose, plan, busy, wrong, engineer, onDone }: ApproveProps) {
  const [reason, setReason] = useState('');
  return (
    <Modal opened={opened} onClose={onClose} title="Approve a departure">
      {plan?.needsApproval.map((t) => (
        <p key={t} style={{ fontSize: 17 }}>
          {t}
        </p>
      ))}
      {engineer ? (
        <>
          <Textarea
            label="Why this is right for this joint"
            value={reason}
            onChange={(e) => setReason(e.currentTarget.value)}
            my={10}
            autosize
            minRows={2}
            maxLength={500}
            data-autofocus
          />
          {wrong && <p className="wrong">{wrong}</p>}
          <button type="button" className="btn now wide" disabled={busy || !reason.trim()} onClick={() => onDone(reason)}>
            Approve
          </button>
        </>
      ) : (
        <p className="finding stop">
          <b>An engineer must approve this plan.</b> Change hands to an engineer at the top right, or go back to the planned lubricant.
        </p>
      )}
    </Modal>
  );
}
