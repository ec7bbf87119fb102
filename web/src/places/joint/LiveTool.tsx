import { useCallback, useEffect, useRef, useState } from 'react';
import { api, type DeviceResult, type Tool } from '../../api/client';
import { resultsAfter, useLive } from '../../api/live';
import { num, unitText } from '../../kit/numbers';

interface LiveProps {
  runId: string;
  tool: Tool;
  joint: string;
  pass: number;
  number: number | undefined; // of the next fastener, as chalked
  setting: number;
  ready: boolean; // a result now belongs to the next fastener
  auto: boolean;
  after: number; // number of its last result that is in the run, 0 when there is none
  lowNm: number;
  highNm: number;
  onResult: (r: DeviceResult) => void;
}

interface Sample {
  value: number;
  unit: string;
  angleDeg?: number;
  pulling: boolean;
}

/**
 * A tool that sends what it measures: its torque while it is pulled, the curve over the angle, and the result, which is kept for the next
 * fastener by itself. What was sent while there was no signal is fetched when it is back.
 */
export function LiveTool({ runId, tool, joint, pass, number, setting, ready, auto, after, lowNm, highNm, onResult }: LiveProps) {
  const [now, setNow] = useState<Sample>();
  const [curve, setCurve] = useState<[number, number][]>([]);
  const [linked, setLinked] = useState<boolean>();
  const [battery, setBattery] = useState<number>();
  const [waiting, setWaiting] = useState<DeviceResult[]>([]);
  const seen = useRef<number>(after > 0 ? after : -1); // last result that was here
  const pulling = useRef(false);

  const arrive = useCallback((list: DeviceResult[]) => {
    const fresh = list.filter((r) => r.seq > seen.current).sort((a, b) => a.seq - b.seq);
    if (fresh.length === 0) return;
    seen.current = fresh.at(-1)?.seq ?? seen.current;
    setWaiting((old) => [...old, ...fresh]);
    const trace = fresh.at(-1)?.reading.trace;
    if (trace && trace.length > 1) setCurve(trace.map((p) => [p.angleDeg, p.torqueNm]));
  }, []);
  const catchUp = useCallback(() => {
    resultsAfter(tool.tag, seen.current).then(
      (r) => {
        if (seen.current < 0) seen.current = r.last;
        else arrive(r.results);
      },
      () => undefined, // no signal: the next opening of the stream asks again
    );
  }, [tool.tag, arrive]);
  const open = useLive(
    runId,
    [tool.tag],
    (n) => {
      if (n.topic !== `tool:${tool.tag}`) return;
      if (n.kind === 'sample') {
        const s = n.data as Sample;
        setLinked(true);
        setNow(s);
        if (s.pulling && !pulling.current) setCurve([]);
        pulling.current = s.pulling;
        if (s.pulling) setCurve((old) => [...old.slice(-600), [s.angleDeg ?? old.length, s.value]]);
      } else if (n.kind === 'result') {
        if (n.data) arrive([n.data as DeviceResult]);
        else catchUp();
      } else if (n.kind === 'status') {
        const d = n.data as { batteryPct?: number } | undefined;
        setLinked(true);
        if (d?.batteryPct !== undefined && d.batteryPct !== null) setBattery(d.batteryPct);
      } else if (n.kind === 'gone') setLinked(false);
    },
    catchUp,
  );
  const first = waiting[0];
  useEffect(() => {
    if (!first || !ready || !auto) return;
    setWaiting((old) => old.slice(1));
    onResult(first);
  }, [first, ready, auto, onResult]);
  // The tool is told what the next pull is for, so that it can show it and stop there.
  useEffect(() => {
    if (!open || !number) return;
    void api
      .POST('/tools/{tag}/aim', {
        params: { path: { tag: tool.tag } },
        body: { joint, pass, fastener: number, set: setting, unit: tool.unit },
      })
      .catch(() => undefined);
  }, [open, tool.tag, tool.unit, joint, pass, number, setting]);

  return (
    <div className="live" data-testid="live-tool">
      <div className="live-head">
        <b className="m">{tool.tag}</b>
        <span>
          {!open ? 'no signal' : linked === undefined ? 'waiting for it' : linked ? 'linked' : 'link lost: type the reading, or wait'}
        </span>
        {battery !== undefined && <span className={battery < 15 ? 'hld' : 'dim'}>battery {num(battery, 0)} %</span>}
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
      <Curve curve={curve} low={lowNm} high={highNm} />
      {first && !(ready && auto) && (
        <div className="finding">
          <b>
            {tool.tag} read {num(first.reading.value)} {unitText(first.reading.unit)}
          </b>
          {ready ? `Keep it for bolt ${number}?` : 'It came before the setting was confirmed: it belongs to no bolt yet.'}
          <div className="row-btns" style={{ margin: '6px 0 0' }}>
            {ready && (
              <button
                type="button"
                className="btn sm"
                onClick={() => {
                  setWaiting((old) => old.slice(1));
                  onResult(first);
                }}
              >
                Keep it for {number}
              </button>
            )}
            <button type="button" className="btn sm" onClick={() => setWaiting((old) => old.slice(1))}>
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
      <rect x={left} y={y(high)} width={w - left - 8} height={Math.max(1, y(low) - y(high))} style={{ fill: 'var(--ok-wash)' }} />
      <path d={`M${left} ${y(low)}H${w - 8}M${left} ${y(high)}H${w - 8}`} style={{ stroke: 'var(--ok)', strokeWidth: 1 }} />
      <path d={`M${left} 4V${h - 16}H${w - 8}`} style={{ fill: 'none', stroke: 'var(--ink)' }} />
      <text x={left - 5} y={y((low + high) / 2) + 5} textAnchor="end" style={{ font: '600 13px var(--mono)', fill: 'var(--ink-2)' }}>
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
          d={curve.map(([a, t], i) => `${i ? 'L' : 'M'}${Math.round(10 * x(a)) / 10} ${Math.round(10 * y(t)) / 10}`).join('')}
          style={{ fill: 'none', stroke: 'var(--ink)', strokeWidth: 2.2 }}
        />
      )}
    </svg>
  );
}
