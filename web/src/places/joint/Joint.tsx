import { useHotkeys } from '@mantine/hooks';
import { useQueryClient } from '@tanstack/react-query';
import { getRouteApi } from '@tanstack/react-router';
import { useEffect, useState } from 'react';
import { jointChanged, type RunState, useJoint } from '../../api/client';
import { keptRun, useRefusedPhotos } from '../../api/device';
import { eventWords } from '../../kit/eventWords';
import { when } from '../../kit/numbers';
import { StationLine, type StationOnLine } from '../../kit/StationLine';
import { TagPlate } from '../../rosette/Glyph';
import { HandOver } from './HandOver';
import { JointMenu } from './JointMenu';
import './joint.css';
import { Prove } from './Prove';
import { Read } from './Read';
import { ReadApart } from './ReadApart';
import { Ready } from './Ready';
import { Tighten } from './Tighten';
import { useRun } from './useRun';

const order = ['read', 'ready', 'tighten', 'prove', 'hand_over'] as const;
type StationCode = (typeof order)[number];
const names: Record<StationCode, string> = {
  read: 'Read',
  ready: 'Ready',
  tighten: 'Tighten',
  prove: 'Prove',
  hand_over: 'Hand over',
};
/** The same stops when a joint is taken apart. */
const apartNames: Record<StationCode, string> = {
  read: 'Read',
  ready: 'Make safe',
  tighten: 'Let go',
  prove: 'Sort',
  hand_over: 'Hand over',
};
const route = getRouteApi('/joints/$tag');

/** One joint on its line: Read, Ready, Tighten, Prove, Hand over. There is no other way into a joint. */
export function JointPlace() {
  const { tag } = route.useParams();
  const search = route.useSearch();
  const navigate = route.useNavigate();
  const qc = useQueryClient();
  const joint = useJoint(tag);
  const [offlineRun, setOfflineRun] = useState<string>();
  useEffect(() => {
    if (joint.isError) void keptRun(tag).then(setOfflineRun);
  }, [joint.isError, tag]);
  const runId = joint.data?.runId || offlineRun;
  const run = useRun(runId || undefined);
  const pictures = useRefusedPhotos(runId || undefined);
  const state = run.state;
  const present: StationCode =
    !runId || !state ? 'read' : state.station === 'sealed' ? 'hand_over' : (state.station as StationCode);
  const wanted = search.station as StationCode | undefined;
  const reachable = order.indexOf(present);
  const viewed = wanted && order.indexOf(wanted) >= 0 && order.indexOf(wanted) <= reachable ? wanted : present;
  const view = (station: string) =>
    void navigate({ search: { station: station === present ? undefined : station }, replace: true });
  useHotkeys(order.map((s, i) => [`alt+${i + 1}`, () => order.indexOf(s) <= reachable && view(s)]));
  useEffect(() => {
    document.title = `${tag} · Dynacor`;
  }, [tag]);

  if (joint.isError && !runId) {
    return (
      <p className="empty" role="alert">
        {(joint.error as Error).message}
      </p>
    );
  }
  const row = joint.data?.joint ?? run.view?.joint;
  if (!row) return <p className="empty">Fetching {tag}.</p>;
  if (runId && !run.view) return <p className="empty">{run.problem ?? `Fetching the readings of ${tag}.`}</p>;
  const refused = run.waiting.filter((w) => w.refused);
  return (
    <>
      <section className="strip" aria-label="Joint">
        <div className="plate">
          <TagPlate text={tag} size={22} />
        </div>
        <div>
          <span className="lab">Joint</span>
          <b>{row.name}</b>
        </div>
        <div>
          <span className="lab">Make</span>
          <b>{row.make}</b>
        </div>
        {row.package && (
          <div className="wide">
            <span className="lab">Package</span>
            <b>{row.package}</b>
          </div>
        )}
        <div className="wide">
          <span className="lab">Plan</span>
          <b>
            {run.view
              ? `version ${run.view.planVersion}`
              : joint.data?.saved
                ? `version ${joint.data.saved.version}`
                : 'not kept yet'}
          </b>
        </div>
        <span className="fill" />
        <div className="last">
          <span className="lab">{runId ? 'Begun by' : 'Where'}</span>
          <b>{runId ? run.view?.startedBy : row.area}</b>
        </div>
        <JointMenu run={run} joint={joint.data} />
      </section>
      <StationLine
        stations={stationList(state, present, !!runId, run.view?.plan.way === 'apart')}
        viewed={viewed}
        onView={view}
      />
      {run.view?.planStale && state?.station !== 'sealed' && (
        <p className="line-note">{run.view.planStale} The work goes on with the plan it began with; ask the planner.</p>
      )}
      {joint.data?.retired && (
        <p className="line-note" role="status">
          Retired: {joint.data.retired}. Nothing is planned or begun on it; its records stay.
        </p>
      )}
      {joint.data?.doubts.map((d) => (
        <p key={d.id} className="line-note">
          In doubt: {d.tool} pulled this joint, last {when(d.lastUsed)}, and was found out later ({d.reason}). An
          inspector or engineer looks at it again and says so in the Crib.
        </p>
      ))}
      {state?.fresh && state.station !== 'sealed' && (
        <p className="line-note">
          <b>To be there anew since it was taken apart ({state.follows}):</b> {state.fresh}.
        </p>
      )}
      {state?.station !== 'sealed' &&
        state?.temporary?.map((x) => (
          <p key={x.item} className="line-note">
            <b>
              Now {x.is}: {x.item}.
            </b>{' '}
            It must be {x.is === 'in' ? 'out' : 'in'} again by “{x.until}”.
          </p>
        ))}
      {!run.view && joint.data?.saved?.stale && (
        <p className="line-note">{joint.data.saved.stale} It will be made anew when the work begins.</p>
      )}
      {run.notKept && (
        <p className="line-note" role="alert">
          {run.notKept}
        </p>
      )}
      {refused.map((w) => (
        <p key={w.id} className="line-note" role="alert">
          Not taken ({eventWords(w.event)}, {when(w.event.at)}): {w.refused}{' '}
          <button type="button" className="btn plain sm" onClick={() => void run.store?.retry(w)}>
            Send again
          </button>
          <button type="button" className="btn plain sm" onClick={() => void run.store?.putAside(w)}>
            Put aside
          </button>
        </p>
      ))}
      {run.aside.length > 0 && (
        <details className="line-note">
          <summary>
            {run.aside.length === 1 ? 'One entry is' : `${run.aside.length} entries are`} put aside on this device
          </summary>
          {run.aside.map((w) => (
            <p key={w.id}>
              {eventWords(w.event)}, {w.event.person.name}, {when(w.event.at)}: {w.refused}{' '}
              <button type="button" className="btn plain sm" onClick={() => void run.store?.discard(w.id)}>
                Throw away
              </button>
            </p>
          ))}
        </details>
      )}
      {pictures.photos.map((p) => (
        <p key={p.id} className="line-note" role="alert">
          A picture was not taken: {p.refused}{' '}
          <button type="button" className="btn plain sm" onClick={() => pictures.drop(p.id)}>
            I have read it, drop it
          </button>
        </p>
      ))}
      <div className="stop-body">
        {viewed === 'read' && run.view?.plan.way === 'apart' && <ReadApart plan={run.view.plan} />}
        {viewed === 'read' && run.view?.plan.way !== 'apart' && (
          <Read
            joint={joint.data}
            run={run}
            onChanged={() => jointChanged(qc, tag)}
            bench={search.torque ? { torque: search.torque, from: search.from ?? '' } : undefined}
            onBenchDone={() => view(present)}
          />
        )}
        {viewed === 'ready' && <Ready run={run} />}
        {viewed === 'tighten' && <Tighten run={run} present={present === 'tighten'} />}
        {viewed === 'prove' && <Prove run={run} onTighten={() => view('tighten')} />}
        {viewed === 'hand_over' && (
          <HandOver run={run} retired={!!joint.data?.retired} onChanged={() => jointChanged(qc, tag)} />
        )}
      </div>
    </>
  );
}

function stationList(s: RunState | undefined, present: StationCode, begun: boolean, apart: boolean): StationOnLine[] {
  const at = order.indexOf(present);
  const groups = s?.rows.filter((g) => g.station === 'ready') ?? [];
  const cleared = groups.filter((g) => g.status === 'cleared').length;
  const stopped = s?.checks.find((c) => c.status === 'stopped');
  const sub: Record<StationCode, string> = {
    read: s?.readAt ? `${apart ? 'begun' : 'read'} ${when(s.readAt)}` : 'specification and plan',
    ready: s
      ? cleared === groups.length
        ? `all ${groups.length} cleared`
        : `${cleared} of ${groups.length} cleared`
      : 'checks and holds',
    tighten: s ? (s.pass > 0 ? `pass ${s.pass} of ${s.passes.length}` : `${s.passes.length} passes`) : 'passes',
    prove: s ? s.verdict.word.toLowerCase() : 'verdict',
    hand_over:
      s?.station === 'sealed'
        ? 'sealed'
        : s?.verdict.code === 'turned_down'
          ? 'to be sealed'
          : apart
            ? 'one signature'
            : 'two signatures',
  };
  const down = s?.verdict.code === 'turned_down';
  const reached: Record<StationCode, boolean> = {
    read: !!s?.readAt,
    ready: cleared === groups.length,
    tighten: s?.pass === 0,
    prove: false,
    hand_over: true,
  };
  return order.map((code, i) => ({
    code,
    name: (apart ? apartNames : names)[code],
    sub: sub[code],
    state:
      down && i < at && !reached[code]
        ? 'stopped'
        : s?.station === 'sealed' || i < at
          ? 'done'
          : i === at
            ? begun &&
              (s?.stoppedBy || (code === 'ready' && stopped) || (code === 'prove' && s?.verdict.code === 'stopped'))
              ? 'stopped'
              : 'now'
            : 'ahead',
    flag:
      i === at && begun
        ? s?.stoppedBy
          ? 'held'
          : code === 'ready'
            ? stopped?.findings[0]?.code.replace(/_/g, ' ')
            : undefined
        : undefined,
  }));
}
