import { useLocalStorage } from '@mantine/hooks';

/** What a person at this device has switched on or off. */
export interface Prefs {
  sound: boolean;
  buzz: boolean;
  voice: boolean; // listen for "done"
  speak: boolean; // say the next bolt and the setting
  leftHand: boolean;
}

const start: Prefs = { sound: true, buzz: true, voice: false, speak: false, leftHand: false };

export const usePrefs = () => useLocalStorage<Prefs>({ key: 'prefs', defaultValue: start, getInitialValueInEffect: false });
