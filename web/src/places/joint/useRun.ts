import { useEffect, useSyncExternalStore } from 'react';
import { type LocalRun, type RunStore, runStore } from '../../api/outbox';

const nothing: LocalRun = { view: undefined, state: undefined, waiting: [], problem: undefined };

/** A run on this device, kept fresh while it is looked at; another device's records appear within seconds. */
export function useRun(id: string | undefined): LocalRun & { store: RunStore | undefined } {
  const store = id ? runStore(id) : undefined;
  const value = useSyncExternalStore(store?.subscribe ?? (() => () => undefined), () => store?.get() ?? nothing);
  useEffect(() => {
    if (!store) return;
    void store.open();
    const t = setInterval(() => {
      if (document.visibilityState === 'visible') void store.refresh();
    }, 8_000);
    return () => clearInterval(t);
  }, [store]);
  return { ...value, store };
}
