import { useState } from 'react';
import type { CheckState, Deviation } from '../../api/client';
import type { LocalRun, RunStore } from '../../api/runStore';
import { Cautions } from '../../kit/Cautions';
import { settled } from '../../kit/checks';
import { when } from '../../kit/numbers';
import { SignDialog, type SignRequest } from '../../kit/SignDialog';
import { GroupRosette, GroupStrip, groupOf } from '../../rosette/GroupRosette';
import { Hub } from '../../rosette/Rosette';
import { CheckPanel } from './CheckPanel';
import { GapUnrolled } from './GapUnrolled';
import { GroupItems } from './Ready';

function ReasonMark({ status }: { status: string }) {
  return (
    <svg
      width="26"
      height="26"
      viewBox="-13 -13 26 26"
      role="img"
      aria-label={status === 'ok' ? 'met' : status === 'wrong' ? 'not met' : status === 'waived' ? 'waived' : 'waits'}
    >
      {status === 'ok' ? (
        <>
          <circle r="11" style={{ fill: 'var(--ok)' }} />
          <path d="M-5 .5l3.6 4l6.6 -8" style={{ fill: 'none', stroke: 'var(--on-ok)', strokeWidth: 2.6 }} />
        </>
      ) : status === 'waived' ? (
        <>
          <circle r="10" style={{ fill: 'var(--film-2)', stroke: 'var(--ok)', strokeWidth: 2.2 }} />
          <path d="M-5.5 0H5.5" style={{ stroke: 'var(--ok)', strokeWidth: 2.8 }} />
        </>
      ) : status === 'wrong' ? (
        <>
          <rect
            x="-11"
            y="-11"
            width="22"
            height="22"
            style={{ fill: 'url(#hRejS)', stroke: 'var(--rej)', strokeWidth: 1.6 }}
          />
          <rect x="-7.5" y="-7.5" width="15" height="15" style={{ fill: 'var(--rej-wash)' }} />
          <path d="M-5 -5L5 5M5 -5L-5 5" style={{ stroke: 'var(--rej)', strokeWidth: 3 }} />
        </>
      ) : (
        <circle r="10" style={{ fill: 'none', stroke: 'var(--ink-3)', strokeWidth: 1.6, strokeDasharray: '3 3' }} />
      )}
    </svg>
  );
}

/** The verdict, worked out from what was recorded, and every reason for it. */
export function Prove({ run, onTighten }: { run: LocalRun & { store: RunStore | undefined }; onTighten: () => void }) {
  const [chosen, setChosen] = useState<string>();
  const [signing, setSigning] = useState<SignRequest>();
  const [shown, setShown] = useState<string>(); // group looked at
  const { state: s, store, view } = run;
  const plan = view?.plan;
  if (!s || !plan || !store) return <p className="empty">Read comes first.</p>;
  const checks = plan.checks.filter((c) => c.station === 'prove');
  const state = (code: string) => s.checks.find((c) => c.code === code) as CheckState;
  const todo = checks.find((c) => !settled(state(c.code).status));
  const check = checks.find((c) => c.code === chosen) ?? todo;
  const gapCheck = checks.find((c) => c.criterion === 'spread' && c.stations);
  const gap = gapCheck ? state(gapCheck.code) : undefined;
  const g = groupOf(plan, shown ?? [...plan.groups].sort((a, b) => b.layout.count - a.layout.count)[0]?.group);
  const last = s.passes.at(-1);
  const rounds = s.passes.some((p) => p.kind === 'check');
  const moved = s.fasteners.filter((f) => {
    const own = s.passes.filter((p) => p.order.includes(f.position));
    return f.marks.some(
      (m, i) => (m === 'moved' || m === 'moved_ok') && own[i]?.kind === 'check' && i >= own.length - 2,
    );
  }).length;
  const v = s.verdict;
  const apart = plan.way === 'apart';
  const open = s.deviations.filter((d) => d.status === 'open' || d.status === 'loosened');
  return (
    <div className="pv">
      <section className="grid-bg">
        <GroupRosette
          size={Math.min(
            500,
            typeof innerWidth === 'number' && innerWidth < 700 ? innerWidth - 40 : innerWidth < 1100 ? 420 : 480,
          )}
          group={g}
          chalk={plan.chalk}
          fasteners={s.fasteners}
          aim={apart ? 0 : 1}
          {...(apart ? { up: 0, down: 0 } : {})}
          tMax={1.14}
          {...(gap ? { stations: gap.values?.length === 8 ? 8 : 4 } : {})}
          scale={g.finalNm && !apart ? [{ t: 1, text: Math.round(g.finalNm).toString() }] : []}
          label={`${plan.joint.tag}${apart ? '' : ' proved'}: ${v.word}. ${s.exceptions.join(', ')}`}
          hub={
            !g.layout.kind || g.layout.kind === 'circle' ? (
              <Hub
                n={g.layout.count - moved}
                of={apart ? 'let go' : rounds ? 'stayed' : 'done'}
                unit={moved ? `${moved} turned` : ''}
                k={2.2}
              />
            ) : undefined
          }
        />
        <span className="cap" style={{ left: 8, bottom: 8 }}>
          {g.groupName && plan.groups.length > 1 ? `${g.groupName}. ` : ''}
          {apart ? 'Open: let go.' : 'Flat cap: clicked, nothing measured.'}
          {gap ? ' Letters: gap stations.' : ''}
        </span>
        <GroupStrip plan={plan} fasteners={s.fasteners} present={g.group} onChoose={setShown} />
      </section>
      <section>
        <div
          className={`stripe${v.code === 'go_round_again' || v.code === 'turned_down' ? ' rej' : v.code === 'accepted' ? ' ok' : ''}`}
          style={v.code === 'not_finished' ? { background: 'var(--film-3)', borderColor: 'var(--hair)' } : undefined}
        />
        <div className="verdict" role="status" data-testid="verdict">
          <b
            className={
              v.code === 'go_round_again' || v.code === 'turned_down' ? 'neg' : v.code === 'stopped' ? 'hld' : ''
            }
            style={v.code === 'accepted' ? { color: 'var(--ok)' } : undefined}
          >
            {v.word}
          </b>
          <p>{v.sentence}</p>
          {v.code === 'go_round_again' && s.pass > 0 && (
            <button type="button" className="btn now" style={{ height: 64, fontSize: 19 }} onClick={onTighten}>
              Go round again
            </button>
          )}
        </div>
        {s.station !== 'sealed' && v.code !== 'turned_down' && s.pass === 0 && check && (
          <div className="pv-body">
            <div className="rule">To be answered</div>
            <GroupItems checks={checks} chosen={check.code} state={state} onChoose={setChosen} />
            <CheckPanel
              key={check.code}
              check={check}
              state={state(check.code)}
              run={run}
              onAnswered={() => setChosen(undefined)}
              onSign={setSigning}
            />
          </div>
        )}
        {s.station === 'prove' && <Cautions list={s.cautions} />}
        {v.reasons.map((r) => (
          <div key={r.text} className={`pv-why${r.status === 'wrong' ? ' wrong-row' : ''}`}>
            <ReasonMark status={r.status} />
            <span>{r.text}</span>
            <span className="m" style={{ fontWeight: 600 }}>
              {r.value}
            </span>
          </div>
        ))}
        {s.remarks?.map((r) => (
          <p key={r} className="finding caution">
            {r}
          </p>
        ))}
        <div className="pv-body">
          {gap?.values && gap.values.length > 2 && (
            <>
              <div className="rule">
                Gap between faces, unrolled
                <span className="r">mm, {gap.values.length} stations from the top, clockwise</span>
              </div>
              <GapUnrolled values={gap.values} limit={gapCheck?.limit ?? 0} />
            </>
          )}
          <Deviations
            list={s.deviations}
            sealed={s.station === 'sealed'}
            onAccept={(d, also) =>
              setSigning({
                title: also.length ? `Accept ${also.length + 1} deviations of one kind` : 'Accept the deviation',
                text: also.length
                  ? `${d.what}. And ${also.length} more like it; each is signed by itself, with the same reason.`
                  : `${d.what}. ${d.remedy ?? ''}`,
                purpose: 'deviation',
                ref: d.id,
                also: also.map((x) => x.id),
                needsReason: 'Why it may stay',
              })
            }
          />
          {open.length === 0 && last?.complete && s.deviations.length === 0 && (
            <p className="dim">No deviation from the plan.</p>
          )}
        </div>
      </section>
      <SignDialog runId={store.id} request={signing} onClose={() => setSigning(undefined)} />
    </div>
  );
}

export function Deviations({
  list,
  sealed,
  onAccept,
}: {
  list: Deviation[];
  sealed: boolean;
  onAccept: (d: Deviation, also: Deviation[]) => void;
}) {
  if (list.length === 0) return null;
  /** Those that one event left, of one kind: a tool in doubt leaves one for each fastener. */
  const alike = (d: Deviation) =>
    list.filter((x) => x.status === d.status && x.code === d.code && x.id.split('/')[0] === d.id.split('/')[0]);
  return (
    <>
      <div className="rule" style={{ marginTop: 14 }}>
        Not as planned<span className="r">{list.length}</span>
      </div>
      <table className="t">
        <thead>
          <tr>
            <th>What</th>
            <th>Who, when</th>
            <th>How it stands</th>
          </tr>
        </thead>
        <tbody>
          {list.map((d) => (
            <tr key={d.id}>
              <td>
                {d.what}
                {d.remedy && (d.status === 'open' || d.status === 'loosened') && <div className="dim">{d.remedy}</div>}
              </td>
              <td className="dim">
                {d.by}, {when(d.at)}
              </td>
              <td>
                <b>{d.status}</b> {d.closed}
                {(d.status === 'open' || d.status === 'loosened') && !sealed && (
                  <>
                    <button type="button" className="btn sm" style={{ marginLeft: 8 }} onClick={() => onAccept(d, [])}>
                      Accept
                    </button>
                    {alike(d)[0] === d && alike(d).length > 1 && (
                      <button
                        type="button"
                        className="btn sm"
                        style={{ marginLeft: 8 }}
                        onClick={() => onAccept(d, alike(d).slice(1))}
                      >
                        Accept all {alike(d).length} of this kind
                      </button>
                    )}
                  </>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
