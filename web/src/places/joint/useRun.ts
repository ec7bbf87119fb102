import { useEffect, useSyncExternalStore } from 'react';
import type { Entry } from '../../api/client';
import { runStore } from '../../api/device';
import { useLive } from '../../api/live';
import { type LocalRun, noRun, type RunStore } from '../../api/runStore';

/** A run on this device, kept fresh while it is looked at: another device's records appear as they are kept. */
export function useRun(id: string | undefined): LocalRun & { store: RunStore | undefined } {
  const store = id ? runStore(id) : undefined;
  const value = useSyncExternalStore(store?.subscribe ?? (() => () => undefined), () => store?.get() ?? noRun);
  const told = useLive(
    id,
    [],
    (n) => {
      if (n.kind === 'events')
        void store?.hear((n.data as { seq: number; entries?: Entry[] } | undefined) ?? { seq: 0 });
    },
    () => void store?.refresh(),
  );
  useEffect(() => {
    void store?.open();
  }, [store]);
  // Without the stream the run is asked for; with it now and then, should a note have been lost.
  useEffect(() => {
    if (!store) return;
    const t = setInterval(
      () => {
        if (document.visibilityState === 'visible') void store.refresh();
      },
      told ? 45_000 : 8_000,
    );
    return () => clearInterval(t);
  }, [store, told]);
  return { ...value, store };
}
