import type { Plan, RunEvent, RunState } from '../api/client';

let loading: Promise<void> | undefined;
const opened = new Map<string, Plan>();

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

/** The state of a run after its events; undefined while the rules are still being loaded. */
export function fold(runId: string, plan: Plan, events: RunEvent[], now: number): RunState | undefined {
  const core = globalThis.dynacorCore;
  if (!core) return undefined;
  if (opened.get(runId) !== plan) {
    const res = JSON.parse(core.open(runId, JSON.stringify(plan))) as { error?: string };
    if (res.error) throw new Error(res.error);
    opened.set(runId, plan);
  }
  const res = JSON.parse(core.fold(runId, JSON.stringify(events), now)) as { state?: RunState; error?: string };
  if (!res.state) throw new Error(res.error ?? 'no state');
  return res.state;
}

/** The SHA-256 of a file's bytes, in hex. */
export async function sha256(data: Blob): Promise<string> {
  await loadCore();
  return globalThis.dynacorCore?.sha256(new Uint8Array(await data.arrayBuffer())) ?? '';
}
