import { useLocalStorage } from '@mantine/hooks';

/** What a person at this device has switched on or off. */
export interface Prefs {
  sound: boolean;
  buzz: boolean;
  voice: boolean; // listen for "done"
  speak: boolean; // say the next bolt and the setting
  auto: boolean; // keep what a linked tool sends
  leftHand: boolean;
}

const start: Prefs = { sound: true, buzz: true, voice: false, speak: false, auto: true, leftHand: false };

export const usePrefs = () =>
  useLocalStorage<Prefs>({
    key: 'prefs',
    defaultValue: start,
    getInitialValueInEffect: false,
    deserialize: (v) => ({ ...start, ...(v ? (JSON.parse(v) as Partial<Prefs>) : {}) }), // switches that came later start as above
  });
