import type { Plan, RunEvent, RunState } from '../api/client';

let loading: Promise<void> | undefined;
const opened = new Map<string, Plan>();

/** Loads the rules of the job, once. They are the same Go code that runs on the server. */
export function loadCore(): Promise<void> {
  loading ??= (async () => {
    await import('../wasm/wasm_exec.js');
    const { default: url } = await import('../wasm/core.wasm?url');
    const go = new Go();
    const { instance } = await WebAssembly.instantiateStreaming(fetch(url), go.importObject);
    void go.run(instance); // main() never returns, so the functions stay callable
  })();
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
