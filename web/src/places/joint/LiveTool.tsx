import { useCallback, useEffect, useRef, useState } from 'react';
import { api, type DeviceResult, type Tool } from '../../api/client';
import { outbox } from '../../api/device';
import { resultsAfter, useLive } from '../../api/live';
import { num, unitText } from '../../kit/numbers';

interface LiveInput {
  runId: string | undefined;
  tool: Tool | undefined;
  joint: string;
  pass: number;
  number: number | undefined; // of the next fastener, as chalked
  setting: number;
  ready: boolean; // a result now belongs to the next fastener
  asking: boolean; // something is asked about the last one
  auto: boolean;
  after: number; // number of its last result that is in the run, 0 when there is none
  onResult: (r: DeviceResult) => void;
}

interface Sample {
  value: number;
  unit: string;
  angleDeg?: number;
  pulling: boolean;
}

/** A linked tool as it stands, and what it sent that belongs to no fastener yet. */
export interface LiveTool {
  open: boolean;
  linked: boolean | undefined; // undefined: not heard of yet
  battery: number | undefined;
  now: Sample | undefined;
  curve: [number, number][];
  waiting: DeviceResult | undefined;
  take: () => void;
  drop: () => void;
}

/**
 * Listens to a tool that sends what it measures. Its results go to the next fastener one after another, each only when the one before is in
 * the run; what was sent while there was no signal is fetched when it is back.
 */
export function useLiveTool({
  runId,
  tool,
  joint,
  pass,
  number,
  setting,
  ready,
  asking,
  auto,
  after,
  onResult,
}: LiveInput): LiveTool {
  const [now, setNow] = useState<Sample>();
  const [curve, setCurve] = useState<[number, number][]>([]);
  const [linked, setLinked] = useState<boolean>();
  const [battery, setBattery] = useState<number>();
  const [waiting, setWaiting] = useState<DeviceResult[]>([]);
  const [handed, setHanded] = useState<{ seq: number; asked: boolean }>(); // given to a fastener, not in the run yet
  const seen = useRef(-1); // number of the last result that was here; -1 not known
  const pulling = useRef(false);
  const tag = tool?.tag;

  // biome-ignore lint/correctness/useExhaustiveDependencies: another tool begins anew, with what the run has of it
  useEffect(() => {
    seen.current = after > 0 ? after : -1;
    setWaiting([]);
    setHanded(undefined);
    setLinked(undefined);
    setNow(undefined);
    setCurve([]);
  }, [tag, runId]);

  const arrive = useCallback((list: DeviceResult[]) => {
    const fresh = list.filter((r) => r.seq > seen.current).sort((a, b) => a.seq - b.seq);
    if (fresh.length === 0) return;
    seen.current = fresh.at(-1)?.seq ?? seen.current;
    setWaiting((old) => [...old, ...fresh]);
    const trace = fresh.at(-1)?.reading.trace;
    if (trace && trace.length > 1) setCurve(trace.map((p) => [p.angleDeg, p.torqueNm]));
  }, []);
  const catchUp = useCallback(() => {
    if (!tag) return;
    resultsAfter(tag, seen.current).then(
      (r) => {
        if (seen.current < 0) seen.current = r.last;
        else arrive(r.results);
      },
      () => undefined, // no signal: the next opening of the stream asks again
    );
  }, [tag, arrive]);
  const open = useLive(
    undefined,
    runId && tag ? [tag] : [],
    (n) => {
      if (n.kind === 'sample') {
        const s = n.data as Sample;
        setLinked(true);
        setNow(s);
        if (s.pulling && !pulling.current) setCurve([]);
        pulling.current = s.pulling;
        if (s.pulling) setCurve((old) => [...old.slice(-600), [s.angleDeg ?? old.length, s.value]]);
      } else if (n.kind === 'result') {
        const r = n.data as DeviceResult | undefined;
        if (r && r.seq === seen.current + 1) arrive([r]);
        else catchUp();
      } else if (n.kind === 'status') {
        const d = n.data as { batteryPct?: number | null } | undefined;
        setLinked(true);
        if (typeof d?.batteryPct === 'number') setBattery(d.batteryPct);
      } else if (n.kind === 'gone') setLinked(false);
    },
    catchUp,
  );
  const first = waiting[0];
  const take = useCallback(() => {
    if (!first) return;
    setHanded({ seq: first.seq, asked: false });
    setWaiting((old) => old.slice(1));
    onResult(first);
  }, [first, onResult]);
  useEffect(() => {
    if (!handed) return;
    if (after >= handed.seq || (handed.asked && !asking)) setHanded(undefined);
    else if (asking && !handed.asked) setHanded({ ...handed, asked: true });
  }, [handed, after, asking]);
  useEffect(() => {
    if (first && ready && auto && !handed && !asking) take();
  }, [first, ready, auto, handed, asking, take]);
  // The tool is told what the next pull is for, so that it can show it and stop there.
  useEffect(() => {
    if (!open || !number || !tool) return;
    void outbox
      .flush() // the server aims a tool at the work as it knows it
      .then(() =>
        api.POST('/tools/{tag}/aim', {
          params: { path: { tag: tool.tag } },
          body: { joint, pass, fastener: number, set: setting, unit: tool.unit },
        }),
      )
      .catch(() => undefined);
  }, [open, tool, joint, pass, number, setting]);
  return { open, linked, battery, now, curve, waiting: first, take, drop: () => setWaiting((old) => old.slice(1)) };
}

interface ViewProps {
  live: LiveTool;
  tool: Tool;
  number: number | undefined;
  ready: boolean;
  auto: boolean;
  quiet: boolean; // shown only once it is heard of: most tools of this kind send nothing
  lowNm: number;
  highNm: number;
}

/** What a linked tool shows: its torque while it is pulled, the curve over the angle, and a result that nobody has placed yet. */
export function LiveView({ live, tool, number, ready, auto, quiet, lowNm, highNm }: ViewProps) {
  const { open, linked, battery, now, curve, waiting } = live;
  if (quiet && !linked && !waiting) return null;
  return (
    <div className="live" data-testid="live-tool">
      <div className="live-head">
        <b className="m">{tool.tag}</b>
        <span>
          {!open
            ? 'no signal'
            : linked === undefined
              ? 'not heard of yet'
              : linked
                ? 'linked'
                : 'link lost: type the reading, or wait'}
        </span>
        {battery !== undefined && (
          <span className={battery < 15 ? 'hld' : 'dim'}>
            battery {num(battery, 0)} %{battery < 15 ? ': charge it before the next pass' : ''}
          </span>
        )}
        {now && (
          <span className="live-now m">
            {num(now.value, now.value < 100 ? 1 : 0)} <small>{unitText(now.unit)}</small>
            {now.angleDeg !== undefined && (
              <>
                {' '}
                {num(now.angleDeg, 0)}
                <small>°</small>
              </>
            )}
          </span>
        )}
      </div>
      {tool.kind !== 'pump' && <Curve curve={curve} low={lowNm} high={highNm} />}
      {waiting && !(ready && auto) && (
        <div className="finding">
          <b>
            {tool.tag} {waiting.reading.click ? 'clicked at' : 'read'} {num(waiting.reading.value)}{' '}
            {unitText(waiting.reading.unit)}
          </b>
          {ready ? `Keep it for bolt ${number}?` : 'It belongs to no bolt yet.'}
          <div className="row-btns" style={{ margin: '6px 0 0' }}>
            {ready && (
              <button type="button" className="btn sm" onClick={live.take}>
                Keep it for {number}
              </button>
            )}
            <button type="button" className="btn sm" onClick={live.drop}>
              It was no bolt of this joint
            </button>
          </div>
        </div>
      )}
    </div>
  );
}

/** Torque over angle of the pull at hand, with the band it must end in. */
function Curve({ curve, low, high }: { curve: [number, number][]; low: number; high: number }) {
  const [w, h, left] = [420, 118, 44];
  const maxA = Math.max(20, ...curve.map((c) => c[0]));
  const maxT = Math.max(high * 1.15, ...curve.map((c) => c[1]));
  const x = (a: number) => left + (a / maxA) * (w - left - 8);
  const y = (t: number) => h - 16 - (t / maxT) * (h - 22);
  return (
    <svg
      viewBox={`0 0 ${w} ${h}`}
      width="100%"
      style={{ maxWidth: 560 }}
      role="img"
      aria-label={`Torque over angle, band ${num(low, 0)} to ${num(high, 0)} N·m`}
    >
      <rect
        x={left}
        y={y(high)}
        width={w - left - 8}
        height={Math.max(1, y(low) - y(high))}
        style={{ fill: 'var(--ok-wash)' }}
      />
      <path
        d={`M${left} ${y(low)}H${w - 8}M${left} ${y(high)}H${w - 8}`}
        style={{ stroke: 'var(--ok)', strokeWidth: 1 }}
      />
      <path d={`M${left} 4V${h - 16}H${w - 8}`} style={{ fill: 'none', stroke: 'var(--ink)' }} />
      <text
        x={left - 5}
        y={y((low + high) / 2) + 5}
        textAnchor="end"
        style={{ font: '600 13px var(--mono)', fill: 'var(--ink-2)' }}
      >
        {num((low + high) / 2, 0)}
      </text>
      <text x={w - 8} y={h - 2} textAnchor="end" style={{ font: '500 12px var(--text)', fill: 'var(--ink-2)' }}>
        {num(maxA, 0)}°
      </text>
      <text x={left + 4} y={14} style={{ font: '500 12px var(--text)', fill: 'var(--ink-2)' }}>
        N·m over degrees
      </text>
      {curve.length > 1 && (
        <path
          d={curve
            .map(([a, t], i) => `${i ? 'L' : 'M'}${Math.round(10 * x(a)) / 10} ${Math.round(10 * y(t)) / 10}`)
            .join('')}
          style={{ fill: 'none', stroke: 'var(--ink)', strokeWidth: 2.2 }}
        />
      )}
    </svg>
  );
}
