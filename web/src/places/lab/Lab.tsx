import { useQuery } from '@tanstack/react-query';
import { getRouteApi } from '@tanstack/react-router';
import { useEffect, useState } from 'react';
import { api, must } from '../../api/client';
import { num } from '../../kit/numbers';
import { Aside, keepAside } from './Aside';
import { ask, type LabProcedure, type LabSetup } from './ask';
import { Column } from './Column';
import { JointDialog } from './JointDialog';
import { Measured } from './Measured';
import { Working } from './Working';
import './lab.css';

const route = getRouteApi('/lab');

const usual: LabSetup = {
  tag: '',
  name: '',
  bolts: 16,
  thread: 'M27',
  gasket: 'sheet',
  gasketMm: 2,
  targetKn: 148,
  yieldKn: 0,
  needMpa: 0,
  boltCircleMm: 525,
  boreMm: 400,
  outsideMm: 580,
  thicknessMm: 38,
  hubMm: 10,
  frictionPct: 10,
  toolPct: 3,
  curvePct: 10,
  pullSeconds: 45,
  passSeconds: 120,
};
const left: LabProcedure = { school: 'cross', stages: [30, 60, 100], tools: 1, rounds: 1 };
const right: LabProcedure = { school: 'clockwise', stages: [50, 100], tools: 1, rounds: 0 };

const gaskets: Record<string, string> = {
  sheet: 'fibre sheet',
  spiral: 'spiral-wound',
  ring: 'metal ring',
  face: 'faces on each other',
  taper: 'two rings on a taper',
};

/** Two ways of tightening a joint beside each other: what each bolt does while its neighbours are tightened. */
export function LabPlace() {
  const search = route.useSearch();
  const navigate = route.useNavigate();
  const [at, setAt] = useState<number>();
  const [steps, setSteps] = useState<[number, number]>([0, 0]);
  const [playing, setPlaying] = useState(false);
  const [dialog, setDialog] = useState<'joint' | 'working' | 'advice'>();
  const [side, setSide] = useState<'left' | 'right'>('left');
  const [kept, setKept] = useState(0);
  const registered = useQuery({
    queryKey: ['lab', 'joint', search.tag],
    queryFn: () => must(api.GET('/joints/{tag}/lab', { params: { path: { tag: search.tag ?? '' } } })),
    enabled: !!search.tag && !search.joint,
    retry: false,
  });
  const setup = search.joint ?? (search.tag ? registered.data?.setup : usual);
  const planned = search.joint ? undefined : registered.data?.planned;
  const a = search.a ?? planned ?? left;
  const b = search.b ?? right;
  const set = (part: Partial<typeof search>) => {
    setAt(undefined);
    setPlaying(false);
    void navigate({ search: (old) => ({ ...old, ...part }), replace: true });
  };
  const most = Math.max(...steps);
  const now = at ?? most;
  useEffect(() => {
    if (!playing) return;
    const timer = setInterval(() => setAt((n) => Math.min(most, (n ?? most) + 1)), 120);
    return () => clearInterval(timer);
  }, [playing, most]);
  useEffect(() => {
    if (now >= most) setPlaying(false);
  }, [now, most]);
  const compared = useQuery({
    queryKey: ['lab', 'compare', setup, a, b],
    queryFn: () => ask('compare', { setup: setup as LabSetup, procedure: a, other: b }),
    enabled: !!setup,
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
  });
  return (
    <div className="lab-place">
      <div className="lab-sentence">
        <h1>
          {setup ? (
            <>
              On{' '}
              <button type="button" onClick={() => setDialog('joint')}>
                {(setup.tag || setup.flange) && `${setup.tag || setup.flange}, `}
                {setup.bolts} bolts {setup.thread}
              </button>{' '}
              with{' '}
              <button type="button" onClick={() => setDialog('joint')}>
                {gaskets[setup.gasket] ?? setup.gasket}
                {setup.gasketMm > 0 && ` ${num(setup.gasketMm)} mm`}
              </button>
              , aiming at{' '}
              <button type="button" onClick={() => setDialog('joint')}>
                {num(setup.targetKn)} kN
              </button>
            </>
          ) : (
            'Looking at the joint'
          )}
        </h1>
        <span className="sp" />
        <button type="button" className="btn sm" onClick={() => setDialog('advice')} disabled={!setup}>
          Fewest pulls
        </button>
        <button type="button" className="btn sm" onClick={() => setDialog('working')} disabled={!setup}>
          Show the working
        </button>
        <button type="button" className="btn sm" onClick={() => print()}>
          Print
        </button>
      </div>
      {registered.isError && (
        <p className="wrong" role="alert">
          {registered.error.message}{' '}
          <button type="button" className="btn sm" onClick={() => void navigate({ search: {}, replace: true })}>
            Make one up instead
          </button>
        </p>
      )}
      <p className="lab-compared" role="status">
        {compared.data ? (
          <>
            <b>{compared.data.sentence}</b> {compared.data.sure}
          </>
        ) : (
          <span className="dim">{compared.isError || registered.isError ? '' : 'Comparing.'}</span>
        )}
      </p>
      {setup && (
        <>
          <fieldset className="lab-switch" aria-label="Which one">
            {(['left', 'right'] as const).map((s) => (
              <button key={s} type="button" aria-pressed={side === s} onClick={() => setSide(s)}>
                {s === 'left' ? 'Left' : 'Right'}
              </button>
            ))}
          </fieldset>
          <div className={`lab-columns show-${side}`}>
            <Column
              side="left"
              setup={setup}
              procedure={a}
              planned={planned}
              at={at}
              onSteps={(n) => setSteps((old) => [n, old[1]])}
              onChange={(p) => set({ a: p })}
              onKeep={() => setKept(keepAside(a))}
            />
            <Column
              side="right"
              setup={setup}
              procedure={b}
              planned={planned}
              at={at}
              onSteps={(n) => setSteps((old) => [old[0], n])}
              onChange={(p) => set({ b: p })}
              onKeep={() => setKept(keepAside(b))}
            />
          </div>
          <Aside key={kept} onLeft={(p) => set({ a: p })} onRight={(p) => set({ b: p })} />
          <Measured
            key={search.tag ?? ''}
            setup={setup}
            bench={search.joint ? undefined : registered.data}
            way={a}
            run={search.run}
            onRun={(run) => set({ run })}
          />
          <div className="lab-scrub">
            <button
              type="button"
              className="btn sm"
              onClick={() => {
                if (!playing && now >= most) setAt(0);
                setPlaying(!playing);
              }}
            >
              {playing ? 'Pause' : 'Play'}
            </button>
            <button type="button" className="btn sm" onClick={() => setAt(Math.max(0, now - 1))}>
              Back
            </button>
            <button type="button" className="btn sm" onClick={() => setAt(Math.min(most, now + 1))}>
              On
            </button>
            <input
              type="range"
              aria-label="Pulls done"
              min={0}
              max={most}
              value={now}
              onChange={(e) => setAt(e.currentTarget.valueAsNumber)}
            />
            <span className="m">
              pull <b>{now}</b> of {most}
            </span>
          </div>
        </>
      )}
      {setup && dialog === 'joint' && (
        <JointDialog
          setup={setup}
          onBack={() => setDialog(undefined)}
          onTag={(tag) => {
            setDialog(undefined);
            setAt(undefined);
            void navigate({ search: (old) => ({ a: old.a, b: old.b, tag }), replace: true });
          }}
          onDone={(joint) => {
            setDialog(undefined);
            set({ joint, tag: joint.tag || undefined });
          }}
        />
      )}
      {setup && (dialog === 'working' || dialog === 'advice') && (
        <Working
          of={dialog}
          setup={setup}
          onBack={() => setDialog(undefined)}
          onTake={(p) => {
            setDialog(undefined);
            set({ a: p });
          }}
        />
      )}
    </div>
  );
}
