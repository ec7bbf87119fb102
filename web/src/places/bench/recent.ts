import { useLocalStorage } from '@mantine/hooks';

export type Values = Record<string, unknown>;

export interface Kept {
  name: string;
  title: string;
  values: Values;
  units: Record<string, string>;
}

/** The sheets last opened on this device, the newest first, as they were left. */
export const useRecent = () =>
  useLocalStorage<Kept[]>({ key: 'bench', defaultValue: [], getInitialValueInEffect: false });

/** The newest first, each sheet once, no more than nine. */
export const withRecent = (list: Kept[], k: Kept): Kept[] => [k, ...list.filter((x) => x.name !== k.name)].slice(0, 9);
