import { getRouteApi } from '@tanstack/react-router';
import { useState } from 'react';
import type { CheckState, Plan, ProcedureCheck, RunState } from '../../api/client';
import type { LocalRun, RunStore } from '../../api/runStore';
import { Cautions } from '../../kit/Cautions';
import { settled } from '../../kit/checks';
import { conditionWords } from '../../kit/conditions';
import { LimitRuler } from '../../kit/LimitRuler';
import { when } from '../../kit/numbers';
import { SignDialog, type SignRequest } from '../../kit/SignDialog';
import { FamilyPicture } from '../../pictures/FamilyPicture';
import { firstOf, GroupRosette, GroupStrip, groupOf } from '../../rosette/GroupRosette';
import { hexagon } from '../../rosette/geometry';
import { AlignmentDrawing } from './AlignmentDrawing';
import { CheckPanel } from './CheckPanel';
import { limitText } from './limits';
import { NotTrained } from './NotTrained';

const route = getRouteApi('/joints/$tag');

export function StatusHex({ status }: { status: string }) {
  return (
    <svg width="30" height="30" viewBox="-15 -15 30 30" role="img" aria-label={status.replace('_', ' ')}>
      {status === 'waived' ? (
        <>
          <path d={hexagon(0, 0, 13, 30)} style={{ fill: 'var(--film-2)', stroke: 'var(--ok)', strokeWidth: 2.4 }} />
          <path d="M-6.5 0H6.5" style={{ stroke: 'var(--ok)', strokeWidth: 3 }} />
        </>
      ) : status === 'cleared' || status === 'by_leave' ? (
        <>
          <path d={hexagon(0, 0, 13, 30)} style={{ fill: 'var(--ok)' }} />
          <path d="M-6 .5l4.2 4.6l7.8 -9" style={{ fill: 'none', stroke: 'var(--on-ok)', strokeWidth: 2.8 }} />
        </>
      ) : status === 'stopped' ? (
        <>
          <path
            d={hexagon(0, 0, 13, 30)}
            style={{ fill: 'url(#hHold)', stroke: 'var(--hold-edge)', strokeWidth: 1.6 }}
          />
          <circle r="9" style={{ fill: 'var(--hold)' }} />
          <path d="M-3.2 -5.2V5.2M3.2 -5.2V5.2" style={{ stroke: 'var(--hold-line)', strokeWidth: 3.2 }} />
        </>
      ) : (
        <>
          <path d={hexagon(0, 0, 13, 30)} style={{ fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.8 }} />
          {(status === 'to_sign' || status === 'to_waive') && (
            <path d="M-6 4q4 -12 6 -2t6 -4" style={{ fill: 'none', stroke: 'var(--ink)', strokeWidth: 2 }} />
          )}
        </>
      )}
    </svg>
  );
}

const open = (c: CheckState) => !settled(c.status);
const weight: Record<string, number> = { stopped: 0, to_sign: 1, to_waive: 1, open: 2 };

/** What must be in order before the first pull: checks and holds, each answered by a person at a time. */
export function Ready({ run }: { run: LocalRun & { store: RunStore | undefined } }) {
  const search = route.useSearch();
  const navigate = route.useNavigate();
  const [signing, setSigning] = useState<SignRequest>();
  const s = run.state;
  const plan = run.view?.plan;
  if (!s || !plan || !run.store) return <p className="empty">Read comes first.</p>;
  const checks = plan.checks.filter((c) => c.station === 'ready');
  const state = (code: string) => s.checks.find((c) => c.code === code) as CheckState;
  const worst = [...checks]
    .filter((c) => open(state(c.code)))
    .sort((a, b) => (weight[state(a.code).status] ?? 3) - (weight[state(b.code).status] ?? 3))[0];
  const chosen = checks.find((c) => c.code === search.check) ?? worst ?? checks[0];
  const choose = (code: string) => void navigate({ search: (old) => ({ ...old, check: code }), replace: true });
  const after = () => void navigate({ search: (old) => ({ ...old, check: undefined }), replace: true });
  const groups = s.rows.filter((g) => g.station === 'ready');
  const gapCheck = checks.find((c) => c.row === 'alignment' && c.criterion === 'spread' && !firstOf(plan).layout.kind);
  return (
    <div className="ready">
      <NotTrained list={run.view?.untrained} />
      <section>
        <div className="rule">{plan.way === 'apart' ? 'Before anything is let go' : 'Before the first pull'}</div>
        {s.station === 'ready' && <Cautions list={s.cautions} />}
        {groups.map((g) => {
          const first =
            checks.find((c) => c.row === g.code && open(state(c.code))) ?? checks.find((c) => c.row === g.code);
          return (
            <button
              key={g.code}
              type="button"
              className={`ck ${g.status}${chosen?.row === g.code ? ' chosen' : ''}`}
              onClick={() => first && choose(first.code)}
              aria-pressed={chosen?.row === g.code}
            >
              <StatusHex status={g.status} />
              <div>
                <b>{g.title}</b>
                <p>{g.text}</p>
              </div>
              <span className="whom">
                {g.at ? when(g.at) : `${g.cleared} of ${g.total}`}
                <br />
                {g.by}
              </span>
            </button>
          );
        })}
        <p className="dim" style={{ marginTop: 12, borderTop: '1px solid var(--ink)', paddingTop: 8 }}>
          {plan.way === 'apart' ? 'Let go' : 'Tighten'} opens when all {groups.length} are cleared, in any order.{' '}
          {plan.houseRules.protectiveAtSite}: site rule.
        </p>
      </section>
      {!gapCheck ? (
        <JointView plan={plan} checks={checks} state={state} chosen={chosen} />
      ) : (
        <section>
          <div className="rule">
            Alignment, before bolts pull it
            <span className="r">mm, seen from {firstOf(plan).layout.seenFrom || 'the tool’s side'}</span>
          </div>
          <div className="grid-bg" style={{ margin: '8px -14px 6px', display: 'flex', justifyContent: 'center' }}>
            <AlignmentDrawing
              layout={firstOf(plan).layout}
              gap={state(gapCheck.code).values}
              direction={state(gapCheck.code).directionDeg}
              result={state(gapCheck.code).result}
            />
          </div>
          {checks
            .filter((c) => c.row === 'alignment')
            .map((c) => (
              <LimitRuler
                key={c.code}
                name={rulerName[c.code] ?? c.title}
                value={state(c.code).result}
                limit={c.limit ?? 0}
                unit={c.unit ?? 'mm'}
              />
            ))}
          <FamilyPicture family={plan.family} />
          <p className="dim" style={{ fontSize: 14, marginTop: 8 }}>
            Differences drawn larger than life. Limits: {checks.find((c) => c.limitFrom)?.limitFrom}. Never pull a pipe
            straight with the bolts.
          </p>
        </section>
      )}
      <section>
        {chosen && (
          <>
            <GroupItems
              checks={checks.filter((c) => c.row === chosen.row)}
              chosen={chosen.code}
              state={state}
              onChoose={choose}
            />
            <CheckPanel
              key={chosen.code}
              check={chosen}
              state={state(chosen.code)}
              run={run}
              onAnswered={after}
              onSign={setSigning}
            />
          </>
        )}
      </section>
      <SignDialog runId={run.store.id} request={signing} onClose={() => setSigning(undefined)} />
    </div>
  );
}

/** The joint to its own layout, what must be measured before the first pull, and which way the part in question goes. */
function JointView({
  plan,
  checks,
  state,
  chosen,
}: {
  plan: Plan;
  checks: ProcedureCheck[];
  state: (code: string) => CheckState;
  chosen: ProcedureCheck | undefined;
}) {
  const [shown, setShown] = useState<string>();
  const g = groupOf(plan, shown ?? chosen?.fasteners);
  const figures = checks.filter((c) => c.kind === 'measure');
  return (
    <section>
      <div className="rule">
        {plan.familyName}
        <span className="r">{(plan.variantWords ?? []).join(', ')}</span>
      </div>
      <div className="grid-bg joint-view">
        <GroupRosette
          size={300}
          aim={0}
          up={0}
          down={0}
          group={g}
          chalk={plan.chalk}
          label={`${g.groupName ?? plan.joint.tag}, ${g.layout.count} off`}
        />
        <span className="cap">
          {g.groupName}, seen from {g.layout.seenFrom || 'the tool’s side'}
        </span>
      </div>
      <GroupStrip plan={plan} fasteners={undefined} present={g.group} onChoose={setShown} />
      {g.condition && (
        <p className="until">
          <b>Threads {conditionWords(g.condition)}.</b> {g.where}
        </p>
      )}
      <FamilyPicture family={plan.family} />
      {figures.map((c) => (
        <LimitRuler
          key={c.code}
          name={c.title}
          value={state(c.code).result}
          limit={c.limit ?? 0}
          low={c.low}
          open={!c.limit && c.criterion !== 'remain'}
          unit={c.unit ?? ''}
          words={limitText(c)}
        />
      ))}
    </section>
  );
}

const rulerName: Record<string, string> = {
  gap: 'Gap, widest less narrowest',
  offset: 'Offset, shift to centre',
  overlap: 'Hole overlap, worst',
};

interface ItemsProps {
  checks: ProcedureCheck[];
  chosen: string;
  state: (code: string) => RunState['checks'][number];
  onChoose: (code: string) => void;
}

export function GroupItems({ checks, chosen, state, onChoose }: ItemsProps) {
  if (checks.length < 2) return null;
  return (
    <div className="items">
      {checks.map((c) => {
        const st = state(c.code);
        return (
          <button
            key={c.code}
            type="button"
            className={`item${c.code === chosen ? ' chosen' : ''}`}
            onClick={() => onChoose(c.code)}
            aria-pressed={c.code === chosen}
          >
            <StatusHex status={st.status} />
            <span style={{ paddingLeft: 8 }}>
              {c.title}
              {st.text && <small>{st.text}</small>}
            </span>
            <small>{st.at ? when(st.at) : ''}</small>
          </button>
        );
      })}
    </div>
  );
}
