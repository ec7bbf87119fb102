import { useSyncExternalStore } from 'react';

/** Three looks, one touch or key apart: day, glare (sun on the glass), night. */
export type Look = 'day' | 'glare' | 'night';
const looks: Look[] = ['day', 'glare', 'night'];
const listeners = new Set<() => void>();

function read(): Look {
  const v = localStorage.getItem('look') as Look | null;
  return v && looks.includes(v) ? v : 'day';
}

let look = read();

function apply() {
  document.documentElement.dataset.look = look;
  document.documentElement.dataset.mantineColorScheme = look === 'night' ? 'dark' : 'light';
}
apply();

export function nextLook() {
  look = looks[(looks.indexOf(look) + 1) % looks.length] ?? 'day';
  localStorage.setItem('look', look);
  apply();
  for (const l of listeners) l();
}

export const useLook = () =>
  useSyncExternalStore(
    (l) => {
      listeners.add(l);
      return () => listeners.delete(l);
    },
    () => look,
  );
