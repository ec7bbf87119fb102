import { Modal, Select, Textarea } from '@mantine/core';
import { useDisclosure, useHotkeys } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { useNavigate } from '@tanstack/react-router';
import { useEffect, useState } from 'react';
import { api, type Choices, type JointDetail, lubricantChoices, must, type Plan, useLibrary, useProcedure } from '../../api/client';
import { runStore } from '../../api/device';
import type { LocalRun } from '../../api/runStore';
import { useSession } from '../../api/session';
import { Findings } from '../../kit/Findings';
import { SpreadRuler } from '../../kit/LimitRuler';
import { besideTorque, num, unitText, when } from '../../kit/numbers';
import { ToolString } from '../../kit/ToolString';
import { WorkingSheet } from '../../kit/Working';
import { GroupRosette, GroupStrip, groupOf } from '../../rosette/GroupRosette';
import { SpecificationForm } from '../joints/SpecificationForm';
import { BoltSection } from './BoltSection';
import { endsText, GroupTable, targetText } from './GroupTable';

interface ReadProps {
  joint: JointDetail | undefined;
  run: LocalRun;
  onChanged: () => void;
  bench?: { torque: number; from: string } | undefined; // a torque worked out on the bench, to become the target
  onBenchDone?: () => void;
}

/** What the document demands, beside the plan made from it. Changing a choice re-plans at once. */
export function Read({ joint, run, onChanged, bench, onBenchDone }: ReadProps) {
  const begun = !!run.view;
  const [choices, setChoices] = useState<Choices>({});
  const [shown, setShown] = useState<string>(); // group looked at
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
  const ready = !!plan && plan.passes.length > 0 && plan.toBeSupplied.length === 0 && stops.length === 0;
  useHotkeys([['Enter', () => !begun && ready && !busy && press()]]);
  const spec = plan?.specification ?? joint?.versions[0]?.specification;
  const g = plan ? groupOf(plan, shown) : undefined;
  const several = (plan?.others?.length ?? 0) > 0;
  const mine = plan && g ? plan.passes.filter((p) => !p.group || p.group === g.group) : [];
  const stages = mine.filter((p) => p.kind === 'stage');
  const order = (stages[0] ?? mine[0])?.order ?? [];
  const first = !g?.group || g.group === plan?.group;
  const picked: Choices = (first ? plan?.choices : plan?.choices.others?.[g?.group ?? '']) ?? {};
  const chosen = g?.offers?.find((o) => o.tags === picked.wrench);
  const set = (c: Choices) =>
    setChoices((old) =>
      first || !g?.group ? { ...old, ...c } : { ...old, others: { ...old.others, [g.group]: { ...old.others?.[g.group], ...c } } },
    );
  const family = useProcedure(plan?.family ?? joint?.joint.family);
  const kin = family.data?.family.fasteners.find((x) => x.code === g?.group) ?? family.data?.family.fasteners[0];
  const patternData = patterns.filter((p) => !kin || kin.patterns.includes(p.value.replace('8', '')));
  const refused = Object.entries(kin?.refused ?? {})
    .sort(([a], [b]) => Number(b === 'cross') - Number(a === 'cross'))
    .slice(0, 1)
    .map(([p, why]) => `not ${orderWord(p, 4)}: ${why}`)
    .join('');

  return (
    <div className="read">
      <section className="read-plan grid-bg">
        {plan && g && plan.passes.length > 0 ? (
          <>
            <span className="cap">
              {several && <b>{g.groupName}, </b>}seen from {g.layout.seenFrom || 'the tool’s side'}
              {!g.layout.kind && ', bolt 1 right of the top'}
            </span>
            <GroupRosette
              size={several ? 340 : 384}
              group={g}
              chalk={plan.chalk}
              label={`${tag} as planned: ${g.layout.count} ${g.noun || 'bolt'}s, order ${order.join(', ')}`}
              planned={stages.length ? stages.map((p) => (g.finalNm ? p.torqueNm / g.finalNm : p.percent / 100)) : [1]}
              order={order}
              tMax={1.1}
              scale={stages.map((p) => ({ t: g.finalNm ? p.torqueNm / g.finalNm : p.percent / 100, text: num(p.torqueNm, 0) }))}
            />
            <p className="under">
              {order.length > 1 && (
                <>
                  order: <span className="m">{order.map((p) => plan.chalk[p - 1]).join(' ')}</span>
                  <br />
                </>
              )}
              {stages.length > 0 && 'torque at the nut, N·m'}
              {g.layout.diameterMm ? ` · bolt circle ${num(g.layout.diameterMm)} mm` : ''}
            </p>
            <GroupStrip plan={plan} fasteners={undefined} present={g.group} onChoose={setShown} />
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
            {(!plan || plan.family === 'gasketed_flange') && <BoltSection spec={spec} />}
            <table className="t">
              {plan && several && <GroupTable plan={plan} shown={g?.group} onChoose={setShown} />}
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
                {plan && (plan.variantWords?.length ?? 0) > 0 && <Row name="Variant" value={(plan.variantWords ?? []).join(', ')} />}
                {!several && (
                  <>
                    <Row name="Target" value={targetText(spec.target)} strong />
                    {plan?.table && <Row name="Looked up" value={`${plan.table.name}, line ${plan.table.keys.join(', ')}`} />}
                    {spec.lubricant && (
                      <Row
                        name="Holds for"
                        value={
                          plan?.lubricantCards.find((l) => l.code === spec.lubricant)?.name ??
                          (spec.lubricant === 'not_named' ? 'not named' : spec.lubricant)
                        }
                      />
                    )}
                    {spec.thread && (
                      <Row
                        name="Bolts"
                        value={`${spec.bolts || plan?.layout.count || ''} × ${spec.thread} ${spec.material}${spec.lengthMm ? `, ${num(spec.lengthMm)} mm long` : ''}`}
                      />
                    )}
                  </>
                )}
                {(!plan || plan.parts.some((p) => p.code === 'gasket')) && <Row name="Gasket" value={spec.gasket || 'to be supplied'} />}
                {Object.entries(spec.figures ?? {}).map(([code, v]) => {
                  const f = family.data?.family.figures?.find((x) => x.code === code);
                  return <Row key={code} name="Figure" value={`${f?.name ?? code}: ${num(v, 3)} ${unitText(f?.unit ?? '')}`} />;
                })}
                {g?.snug && <Row name="Snug" value={g.snug} />}
                {g?.condition && <Row name="Threads" value={`${g.condition}. ${g.where ?? ''}`} />}
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
        <div className="rule">
          The plan
          {plan?.familyName && (
            <span className="r">
              {plan.familyName}, procedure version {plan.procedureVersion}
            </span>
          )}
        </div>
        {plan && g && g.finalNm > 0 && (
          <>
            <div className="tq">
              <b className="m">{num(g.finalNm, g.finalNm < 10 ? 1 : 0)}</b>
              <span>
                N·m at the nut
                <small>
                  {besideTorque(g.finalNm, plan.houseRules)}
                  {g.preloadKN > 0 && ` gives ${num(g.preloadKN, 0)} kN in each ${g.noun || 'bolt'}`}
                </small>
              </span>
              <button type="button" className="btn sm" onClick={work.toggle} aria-expanded={working}>
                {working ? 'close working' : 'show the working'}
              </button>
            </div>
            {working ? (
              <WorkingSheet
                workings={
                  several ? plan.workings.filter((w) => !w.title.includes(' · ') || w.title.endsWith(` · ${g.groupName}`)) : plan.workings
                }
              />
            ) : g.preloadKN > 0 ? (
              <>
                <SpreadRuler
                  name="In each bolt"
                  text={`${num(g.preloadKN, 0)} kN, ${num(g.preloadMinKN, 0)} to ${num(g.preloadMaxKN, 0)}`}
                  low={g.stressMinMPa}
                  high={g.stressMaxMPa}
                  value={g.stressMPa}
                  band={[
                    (plan.houseRules.minYieldPct / 100) * g.strength.yieldMPa,
                    (plan.houseRules.maxYieldPct / 100) * g.strength.yieldMPa,
                  ]}
                  end={g.strength.yieldMPa}
                  marks={[
                    [(plan.houseRules.minYieldPct / 100) * g.strength.yieldMPa, `${num(plan.houseRules.minYieldPct)} %`],
                    [(plan.houseRules.maxYieldPct / 100) * g.strength.yieldMPa, `${num(plan.houseRules.maxYieldPct)} % of yield`],
                    [g.strength.yieldMPa, `yield ${num(g.strength.yieldMPa, 0)}`],
                  ]}
                />
                <p className="dim" style={{ fontSize: 14 }}>
                  {num(g.stressMPa, 0)} MPa in the bolt, {num(g.yieldPct, 0)} % of yield; thick bar: the spread.
                </p>
              </>
            ) : null}
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
                  value={`${picked.pattern}${picked.groups === 8 ? '8' : ''}`}
                  onChange={(v) => v && set({ pattern: v.replace('8', ''), groups: v.endsWith('8') ? 8 : 4 })}
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
              {!g.layout.kind && g.group === plan.group && (
                <Select
                  label="At once"
                  value={String(plan.choices.together || 1)}
                  onChange={(v) => set({ together: Number(v) > 1 ? Number(v) : undefined })}
                  disabled={!!pulled}
                  data={[1, 2, 3, 4].map((n) => ({
                    value: String(n),
                    label: n === 1 ? 'one tool' : `${n} tools`,
                    disabled: g.layout.count % n !== 0,
                  }))}
                />
              )}
              <LubricantSelect plan={plan} value={picked.lubricant} disabled={!!pulled} onChange={(lubricant) => set({ lubricant })} />
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
        )}
        {plan && g && !(g.finalNm > 0) && plan.passes.length > 0 && (
          <p className="until">
            <b>{g.groupName}:</b> {endsText(g)} {g.endsWhy}
          </p>
        )}
        {plan && plan.passes.length > 0 && (
          <>
            <table className="t passes">
              <thead>
                <tr>
                  <th>Pass</th>
                  <th className="n">at the nut</th>
                  <th className="n">{several ? 'set' : `set on ${plan.wrench?.tag ?? 'wrench'}`}</th>
                  {!several && <th>order</th>}
                </tr>
              </thead>
              <tbody>
                {plan.passes.map((p) => (
                  <tr key={p.number} title={p.why} className={several && p.group === g?.group ? 'cur' : ''}>
                    <td>
                      {p.number} &nbsp;{p.kind === 'check' ? 'round, till none turns' : p.name}
                      {several && (
                        <small className="dim">
                          {' '}
                          {groupOf(plan, p.group).groupName?.toLowerCase()}, {orderWord(p.pattern, plan.choices.groups)}
                        </small>
                      )}
                    </td>
                    <td className="n">
                      {p.torqueNm
                        ? num(p.torqueNm, p.torqueNm < 10 ? 1 : 0)
                        : p.lowNm
                          ? `${num(p.lowNm, 1)}–${num(p.highNm ?? 0, 1)}`
                          : '–'}
                    </td>
                    <td className="n">
                      {p.setting
                        ? `${num(p.setting, 2)} ${unitText(groupOf(plan, p.group).wrench?.unit ?? 'N_m')}`
                        : p.turnDeg
                          ? `${num(p.turnDeg, 0)}°`
                          : '–'}
                    </td>
                    {!several && <td>{p.order.length > 1 ? orderWord(p.pattern, plan.choices.groups) : ''}</td>}
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
      {joint && spec && family.data && (
        <Modal opened={editing} onClose={edit.close} title={`New version of the specification, ${tag}`} size="xl">
          <SpecificationForm
            family={family.data.family}
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

const patterns = [
  { value: 'cross', label: 'Cross' },
  { value: 'group', label: 'Quarters' },
  { value: 'group8', label: 'Eighths' },
  { value: 'clockwise', label: 'Clockwise' },
  { value: 'pairs', label: 'Pair by pair' },
  { value: 'cardinal', label: 'Four quarters first' },
  { value: 'outward', label: 'Middle outward' },
  { value: 'alternate_two', label: 'In turn' },
  { value: 'chosen', label: 'As written down' },
];

const orderWord = (pattern: string, groups: number | undefined) =>
  pattern === 'group'
    ? groups === 8
      ? 'eighths'
      : 'quarters'
    : (patterns.find((p) => p.value === pattern)?.label.toLowerCase() ?? pattern);

const schemeData = [
  { value: '20_60_100', label: '20, 60, 100 %' },
  { value: '30_70_100', label: '30, 70, 100 %' },
  { value: '50_80_100', label: '50, 80, 100 %' },
  { value: 'thirds', label: 'thirds' },
  { value: 'snug_final', label: 'snug, full' },
  { value: 'half_full', label: 'half, full' },
  { value: 'single', label: 'at once' },
];

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
