import { useQuery } from '@tanstack/react-query';
import type { components } from '../api/schema';
import { start } from './core';

export type Sheet = components['schemas']['Described'];
export type Field = components['schemas']['CalculationField'];
export type Answer = components['schemas']['CalculationAnswer'];
export type Output = components['schemas']['CalculationOutput'];
export type Ask = components['schemas']['CalculationRequest'];
type Lubricant = components['schemas']['Lubricant'];

export interface Refusal {
  field: string;
  why: string;
  remedy?: string;
}

let loading: Promise<void> | undefined;

/** Loads the catalogue of calculations, once: the same Go code as on the server, and it works without network. */
export function loadCalc(): Promise<void> {
  loading ??= start(() => import('../wasm/calc.wasm?url'));
  loading.catch(() => {
    loading = undefined;
  });
  return loading;
}

/** The catalogue once it is loaded; ask for it with useCalc. */
export const useCalc = () =>
  useQuery({
    queryKey: ['calc'],
    queryFn: async () => {
      await loadCalc();
      return sheets('');
    },
    staleTime: Number.POSITIVE_INFINITY,
    networkMode: 'always',
  });

/** The calculations that words find, the best first; none while the catalogue is not loaded. */
export function sheets(words: string): Sheet[] {
  return JSON.parse(globalThis.dynacorCalc?.catalogue(words) ?? '[]') as Sheet[];
}

/** Works out a sheet: an answer, or why not. */
export function calculate(name: string, ask: Ask, cards: Lubricant[]): { answer?: Answer; refusal?: Refusal } {
  const core = globalThis.dynacorCalc;
  if (!core) return {};
  return JSON.parse(core.calculate(name, JSON.stringify(ask), JSON.stringify(cards)));
}

/** A number as typed, told in another unit of the same kind; the text as it was when it is no plain number. */
export function toUnit(text: string, from: string, to: string): string {
  if (text.trim() === '') return text;
  const r = calculate('unit_convert', { values: { value: text, from, to } }, []);
  const out = r.answer?.outputs[0];
  return out ? (out.number ?? text).replace(/\u2009/g, '') : text;
}
