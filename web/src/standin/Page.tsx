import { Checkbox, NumberInput, Select } from '@mantine/core';
import { useEffect, useRef, useState } from 'react';
import { Gauge } from '../kit/Gauge';
import { figureOf, num, unitText } from '../kit/numbers';
import { ToolDrawing } from '../kit/ToolString';
import './standin.css';

interface Faults {
  driftPct: number;
  lateClick: boolean;
  lostLink: boolean;
  duplicate: boolean;
  reorder: boolean;
  lowBattery: boolean;
  wrongUnit: boolean;
}

interface Device {
  tag: string;
  kind: string;
  word: string;
  linked: boolean;
  problem?: string;
  set: number;
  unit: string;
  value: number;
  angleDeg: number;
  pulling: boolean;
  clicked: boolean;
  clicks: number;
  turned: boolean;
  waiting: number;
  lastSeq: number;
  aim?: { joint: string; pass: number; fastener: number; set: number; unit: string };
  faults: Faults;
  condition: string;
}

const gauges = ['caliper', 'stretch_gauge', 'torque_meter', 'depth_gauge', 'feelers', 'pressure_gauge'];
const faultWords: [Exclude<keyof Faults, 'driftPct'>, string][] = [
  ['lateClick', 'late click, by a tenth'],
  ['lostLink', 'lost link'],
  ['duplicate', 'every result twice'],
  ['reorder', 'results overtake each other'],
  ['lowBattery', 'low battery'],
  ['wrongUnit', 'switched to ft·lbf'],
];

let audio: AudioContext | undefined;

/** The click of a wrench: a short knock, heard and felt. */
function click() {
  navigator.vibrate?.(35);
  try {
    audio ??= new AudioContext();
    const o = audio.createOscillator();
    const g = audio.createGain();
    o.type = 'square';
    o.frequency.setValueAtTime(1900, audio.currentTime);
    o.frequency.exponentialRampToValueAtTime(240, audio.currentTime + 0.03);
    g.gain.setValueAtTime(0.4, audio.currentTime);
    g.gain.exponentialRampToValueAtTime(0.001, audio.currentTime + 0.06);
    o.connect(g).connect(audio.destination);
    o.start();
    o.stop(audio.currentTime + 0.07);
  } catch {
    // No sound here: the word on the page still tells.
  }
}

/** Simulated tools that a person pulls with a key or a finger. Nothing here touches real work. */
export function Page() {
  const [devices, setDevices] = useState<Device[]>([]);
  const [tag, setTag] = useState<string>();
  const [gone, setGone] = useState(false);
  const socket = useRef<WebSocket>(undefined);
  const heard = useRef(new Map<string, number>());
  useEffect(() => {
    let again: ReturnType<typeof setTimeout>;
    let over = false;
    const dial = () => {
      const ws = new WebSocket(`${location.protocol === 'https:' ? 'wss' : 'ws'}://${location.host}/standin/link`);
      socket.current = ws;
      ws.onopen = () => setGone(false);
      ws.onmessage = (e) => {
        const list = JSON.parse(e.data as string) as Device[];
        for (const d of list) {
          const before = heard.current.get(d.tag);
          if (before !== undefined && d.clicks > before) click();
          heard.current.set(d.tag, d.clicks);
        }
        setDevices(list);
      };
      ws.onclose = () => {
        if (over) return;
        setGone(true);
        again = setTimeout(dial, 1000);
      };
    };
    dial();
    return () => {
      over = true;
      clearTimeout(again);
      socket.current?.close();
    };
  }, []);
  const d = devices.find((x) => x.tag === tag) ?? devices[0];
  const ask = (what: Record<string, unknown>) => {
    if (d && socket.current?.readyState === WebSocket.OPEN)
      socket.current.send(JSON.stringify({ tag: d.tag, ...what }));
  };
  return (
    <div className="standin">
      <header>
        <b>Stand-ins</b>
        <nav>
          {devices.map((x) => (
            <button key={x.tag} type="button" aria-pressed={x.tag === d?.tag} onClick={() => setTag(x.tag)}>
              <span className="m">{x.tag}</span> {x.word}
            </button>
          ))}
        </nav>
        <small>simulated tools, for trying and teaching</small>
      </header>
      {gone && <p className="finding stop">The stand-ins have stopped. Start them again with: dynacor standin</p>}
      {d && (gauges.includes(d.kind) ? <Measure key={d.tag} d={d} ask={ask} /> : <Pull key={d.tag} d={d} ask={ask} />)}
    </div>
  );
}

interface PaneProps {
  d: Device;
  ask: (what: Record<string, unknown>) => void;
}

function Pull({ d, ask }: PaneProps) {
  const [held, setHeld] = useState(false);
  const latest = useRef(ask);
  latest.current = ask;
  const hold = (on: boolean) => {
    setHeld(on);
    latest.current({ do: on ? 'hold' : 'release' });
  };
  useEffect(() => {
    const down = (e: KeyboardEvent) => {
      if (e.key !== ' ' || e.repeat || (e.target as HTMLElement).closest('input, select, textarea')) return;
      e.preventDefault();
      setHeld(true);
      latest.current({ do: 'hold' });
    };
    const up = (e: KeyboardEvent) => {
      if (e.key !== ' ' || (e.target as HTMLElement).closest('input, select, textarea')) return;
      e.preventDefault();
      setHeld(false);
      latest.current({ do: 'release' });
    };
    const letGo = () => {
      setHeld(false);
      latest.current({ do: 'release' });
    };
    addEventListener('keydown', down);
    addEventListener('keyup', up);
    addEventListener('blur', letGo);
    return () => {
      removeEventListener('keydown', down);
      removeEventListener('keyup', up);
      removeEventListener('blur', letGo);
    };
  }, []);
  const pump = d.kind === 'pump';
  const over = d.clicked && d.value > d.set * 1.04;
  return (
    <main>
      <section className="pane">
        <ToolDrawing kind={d.kind} width={200} />
        <p className="aim">
          {d.aim ? (
            <>
              for <b className="m">{d.aim.joint}</b>, pass {d.aim.pass}, bolt <b>{d.aim.fastener}</b>
            </>
          ) : (
            'no joint has asked for it yet'
          )}
        </p>
        <Link d={d} />
        <NumberInput
          label={`Set on the tool, ${unitText(d.faults.wrongUnit ? 'ft_lbf' : d.unit)}`}
          value={d.set}
          onChange={(v) => typeof v === 'number' && v !== d.set && ask({ do: 'set', value: v })}
          hideControls
          size="md"
        />
        <Select
          label="The fastener under it"
          value={d.condition}
          size="md"
          allowDeselect={false}
          onChange={(v) => v && ask({ do: 'next', condition: v })}
          data={[
            { value: 'sound', label: 'sound' },
            { value: 'cross_thread', label: 'cross-threaded' },
            { value: 'bottomed_out', label: 'runs out of thread' },
            { value: 'already_tight', label: 'already tight' },
            { value: 'soft', label: 'yields early' },
          ]}
        />
        <button type="button" className="btn" onClick={() => ask({ do: 'next', condition: d.condition })}>
          A fresh fastener
        </button>
      </section>
      <section className="pane pull">
        <Gauge
          value={Math.min(d.value, d.set * 1.5)}
          max={d.set * 1.5}
          step={(d.set * 1.5) / 30}
          main={(d.set * 1.5) / 6}
          unit={d.faults.wrongUnit ? 'ft_lbf' : d.unit}
          size={300}
        />
        <p className="value m" aria-live="off">
          {num(d.value, 1)} <small>{unitText(d.faults.wrongUnit ? 'ft_lbf' : d.unit)}</small> {num(d.angleDeg, 0)}
          <small>°</small>
        </p>
        <p className={`word${over ? ' over' : ''}`} role="status">
          {over
            ? 'past the click: too much'
            : d.clicked
              ? 'click'
              : pump && d.pulling
                ? d.turned
                  ? 'the nut turns'
                  : 'the nut turns no more'
                : ' '}
        </p>
        <button
          type="button"
          className="btn now hold"
          aria-pressed={held}
          onPointerDown={(e) => {
            e.currentTarget.setPointerCapture(e.pointerId);
            hold(true);
          }}
          onPointerUp={() => hold(false)}
          onPointerCancel={() => hold(false)}
          onContextMenu={(e) => e.preventDefault()}
        >
          {held ? (pump ? 'advancing' : 'pulling') : pump ? 'Hold to advance the ram' : 'Hold to pull'} <kbd>Space</kbd>
        </button>
        <p className="dim">
          {pump
            ? 'Hold until the ram is out, let go, and again: when a stroke turns nothing more, the pressure is sent.'
            : 'Stop at the first click. Pulling on gives too much, as it does with a real one.'}
        </p>
      </section>
      <FaultPane d={d} ask={ask} />
    </main>
  );
}

function Measure({ d, ask }: PaneProps) {
  const [v, setV] = useState<number | string>(d.kind === 'torque_meter' ? 100 : d.kind === 'pressure_gauge' ? 24 : 3.1);
  return (
    <main>
      <section className="pane">
        <ToolDrawing kind={d.kind} width={200} />
        <Link d={d} />
      </section>
      <section className="pane pull">
        <NumberInput
          label={`What lies under it, ${unitText(d.unit)}`}
          value={v}
          onChange={setV}
          hideControls
          size="lg"
          decimalScale={3}
        />
        <button type="button" className="btn now hold" onClick={() => ask({ do: 'measure', value: figureOf(v) })}>
          Measure and send
        </button>
        <p className="value m">
          {num(d.value, 3)} <small>{unitText(d.unit)}</small>
        </p>
      </section>
      <FaultPane d={d} ask={ask} />
    </main>
  );
}

function Link({ d }: { d: Device }) {
  return (
    <p className={d.linked ? '' : 'hld'}>
      {d.linked ? 'linked' : d.faults.lostLink ? 'link lost' : (d.problem ?? 'looking for the server')}
      {d.waiting > 0 && `, ${d.waiting} waiting to be sent`}
      {d.lastSeq > 0 && `, last result ${d.lastSeq}`}
    </p>
  );
}

function FaultPane({ d, ask }: PaneProps) {
  const set = (change: Partial<Faults>) => ask({ do: 'faults', faults: { ...d.faults, ...change } });
  return (
    <section className="pane">
      <h2 className="rule">What goes wrong</h2>
      <NumberInput
        label="Drift: gives more than it shows, %"
        value={d.faults.driftPct}
        onChange={(v) => set({ driftPct: figureOf(v) })}
        min={-20}
        max={20}
        hideControls
        size="md"
      />
      {faultWords.map(([k, label]) => (
        <Checkbox
          key={k}
          size="md"
          label={label}
          checked={d.faults[k]}
          onChange={(e) => set({ [k]: e.currentTarget.checked })}
        />
      ))}
    </section>
  );
}
