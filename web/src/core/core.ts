import type { Person, Plan, RunEvent, RunState, Signable, WalkAnswer, WalkJoint } from '../api/client';

let loading: Promise<void> | undefined;

/** What core has taken in of a run: its plan, and its events as text. */
interface Taken {
  plan: Plan;
  events: string[];
}
const taken = new Map<string, Taken>();
const texts = new WeakMap<RunEvent, string>();

/** An event as core reads it; written once. */
function textOf(e: RunEvent): string {
  let t = texts.get(e);
  if (t === undefined) {
    t = JSON.stringify(e);
    texts.set(e, t);
  }
  return t;
}

/** Starts Go code in the browser. Its main never returns, so that what it put on the page stays callable. */
export async function start(module: () => Promise<{ default: string }>): Promise<void> {
  await import('../wasm/wasm_exec.js');
  const { default: url } = await module();
  const go = new Go();
  const { instance } = await WebAssembly.instantiateStreaming(fetch(url), go.importObject);
  void go.run(instance);
}

/** Loads the rules of the job, once. They are the same Go code that runs on the server. */
export function loadCore(): Promise<void> {
  loading ??= start(() => import('../wasm/core.wasm?url'));
  loading.catch(() => {
    loading = undefined;
  });
  return loading;
}

type Core = NonNullable<typeof globalThis.dynacorCore>;

/** Makes core ready for the events that follow, and gives those that it has not taken yet. */
function missing(core: Core, runId: string, plan: Plan, events: RunEvent[]): { known: Taken; tail: string[] } {
  const all = events.map(textOf);
  let known = taken.get(runId);
  if (!known || known.plan !== plan) {
    const res = JSON.parse(core.open(runId, JSON.stringify(plan))) as { error?: string };
    if (res.error) throw new Error(res.error);
    known = { plan, events: [] };
    taken.set(runId, known);
  }
  if (known.events.length > all.length || known.events.some((t, i) => t !== all[i])) {
    core.again(runId); // what was taken is not what counts any more: from the beginning
    known.events = [];
  }
  return { known, tail: all.slice(known.events.length) };
}

function stateOf(answer: string): RunState {
  const res = JSON.parse(answer) as { state?: RunState; error?: string };
  if (!res.state) throw new Error(res.error ?? 'no state');
  return res.state;
}

/** The state of a run after its events, of which core takes only those that are new; undefined while the rules are still being loaded. */
export function fold(runId: string, plan: Plan, events: RunEvent[], now: number): RunState | undefined {
  const core = globalThis.dynacorCore;
  if (!core) return undefined;
  const { known, tail } = missing(core, runId, plan, events);
  const state = stateOf(core.take(runId, `[${tail.join(',')}]`, now));
  known.events.push(...tail);
  return state;
}

/** What the state would be with one more event. */
export function judge(
  runId: string,
  plan: Plan,
  events: RunEvent[],
  event: RunEvent,
  now: number,
): RunState | undefined {
  const core = globalThis.dynacorCore;
  if (!core || !fold(runId, plan, events, now)) return undefined;
  return stateOf(core.judge(runId, textOf(event), now));
}

/** What an event would ask for again: passes and checks in words. */
export interface AskedAgain {
  passes: string[];
  checks: string[];
}

/** What one more event would ask for again; undefined while the rules are still being loaded. */
export function asksAgain(
  runId: string,
  plan: Plan,
  events: RunEvent[],
  event: RunEvent,
  now: number,
): AskedAgain | undefined {
  const core = globalThis.dynacorCore;
  if (!core || !fold(runId, plan, events, now)) return undefined;
  const res = JSON.parse(core.asks(runId, textOf(event), now)) as { asks?: AskedAgain; error?: string };
  if (!res.asks) throw new Error(res.error ?? 'nothing is told');
  return res.asks;
}

/** Why an event would be refused when it is sent; '' when it would not, or while the rules are still being loaded. */
export function refusal(runId: string, plan: Plan, events: RunEvent[], event: RunEvent): string {
  const core = globalThis.dynacorCore;
  if (!core) return '';
  missing(core, runId, plan, events);
  return core.says(runId, textOf(event));
}

/** What each of several people may sign as the work stands; undefined while the rules are still being loaded. */
export function maySign(
  runId: string,
  plan: Plan,
  events: RunEvent[],
  people: Person[],
  now: number,
): Signable[][] | undefined {
  const core = globalThis.dynacorCore;
  if (!core || !fold(runId, plan, events, now)) return undefined;
  const res = JSON.parse(core.may(runId, JSON.stringify(people), now)) as { may?: Signable[][]; error?: string };
  if (res.error) throw new Error(res.error);
  return res.may ?? []; // of nobody
}

/** What the answers of a walk say, or why they are refused, of which field. */
export interface Walked {
  what: string;
  well: boolean;
  field: string;
  refused: string;
}

const said = (answer: string): Walked => {
  const res = JSON.parse(answer) as { walked?: Walked; error?: string };
  if (!res.walked) throw new Error(res.error ?? 'nothing is said');
  return res.walked;
};

/** What answers at a joint say; undefined while the rules are still being loaded. */
export const walked = (answers: WalkAnswer[], drawn: WalkJoint['drawn']): Walked | undefined =>
  globalThis.dynacorCore && said(globalThis.dynacorCore.walked(JSON.stringify(answers), JSON.stringify(drawn)));

/** Why a note would be refused; undefined while the rules are still being loaded. */
export const noted = (tag: string, words: string): Walked | undefined =>
  globalThis.dynacorCore && said(globalThis.dynacorCore.noted(tag, words));

/** Tags that may be meant by one that is not among them, the likeliest first; none while the rules are still being loaded. */
export function like(tag: string, tags: string[]): string[] {
  const core = globalThis.dynacorCore;
  if (!core) return [];
  return (JSON.parse(core.like(tag, JSON.stringify(tags))) as { like?: string[] }).like ?? [];
}
