import { factors, symbols } from './units.gen';

// How numbers look. No arithmetic of the job happens here: the core rounds and decides, this only writes.

export const unitText = (u: string) => symbols[u] ?? u;

/** A figure of one unit in another of its kind, for showing. */
export const inUnit = (v: number, from: string, to: string) => (v * (factors[from] ?? 1)) / (factors[to] ?? 1);

/** Up to d decimals, none that are not needed. */
export const num = (v: number, d = 2) => String(Number(v.toFixed(d)));

/** So many digits that count, none that are not needed. */
export const digits = (v: number, n = 4) => String(Number(v.toPrecision(n)));

/** What is a figure, and nothing for what is none. */
export const figureOf = (v: unknown) => (typeof v === 'number' ? v : 0);

/** A whole number that was chosen from a list of ours; what people type is read by core. */
export const wholeOf = (text: string) => Number(text);

/** The two units of torque that the site has chosen. */
export interface TorqueUnits {
  primaryTorque: string;
  secondaryTorque: string;
}

const torqueIn = (nm: number, unit: string) => {
  const u = unit in factors ? unit : 'N_m';
  const v = inUnit(nm, 'N_m', u);
  return `${num(v, v < 10 ? 1 : 0)} ${unitText(u)}`;
};

/** A torque in the site's first unit with the same in its second beside it, both named. */
export const bothTorques = (nm: number, u: TorqueUnits) =>
  `${torqueIn(nm, u.primaryTorque)} (${torqueIn(nm, u.secondaryTorque)})`;

/** A torque in that of the site's units which is not N·m, in brackets, to stand beside N·m. */
export const besideTorque = (nm: number, u: TorqueUnits) =>
  `(${torqueIn(nm, u.secondaryTorque === 'N_m' ? u.primaryTorque : u.secondaryTorque)})`;

export const clock = (iso: string | undefined) => (iso ? new Date(iso).toTimeString().slice(0, 8) : '');

export function when(iso: string | undefined): string {
  if (!iso) return '';
  const d = new Date(iso);
  const hm = d.toTimeString().slice(0, 5);
  if (d.toDateString() === new Date().toDateString()) return hm;
  return `${d.toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })} ${hm}`;
}

export const dayOfYear = (iso: string) =>
  new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' });

export const day = (iso: string) =>
  new Date(iso).toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric', month: 'short' });
