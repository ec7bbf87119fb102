/** How numbers look. No arithmetic of the job happens here: the core rounds and decides, this only writes. */

const symbols: Record<string, string> = {
  N_m: 'N·m',
  kN_m: 'kN·m',
  ft_lbf: 'ft·lbf',
  in_lbf: 'in·lbf',
  kgf_m: 'kgf·m',
  cN_m: 'cN·m',
  daN_m: 'daN·m',
  N_cm: 'N·cm',
  in_ozf: 'in·ozf',
  kgf_cm: 'kgf·cm',
  N_mm2: 'N/mm²',
  kgf_cm2: 'kgf/cm²',
  deg: '°',
  C: '°C',
  F: '°F',
  mm2: 'mm²',
  cm2: 'cm²',
  in2: 'in²',
  m2: 'm²',
  m3: 'm³',
  pct: '%',
  per_K: '1/K',
  mm_per_m: 'mm/m',
  N_per_mm: 'N/mm',
  Nm_per_MPa: 'N·m/MPa',
  Nm_per_deg: 'N·m/°',
  Pa_m3_s: 'Pa·m³/s',
  kg_m3: 'kg/m³',
  J_per_kgK: 'J/(kg·K)',
  J_per_kg: 'J/kg',
  W_per_K: 'W/K',
  W_m2K: 'W/(m²·K)',
  W_mK: 'W/(m·K)',
};

export const unitText = (u: string) => symbols[u] ?? u;

/** Up to d decimals, none that are not needed. */
export const num = (v: number, d = 2) => String(Number(v.toFixed(d)));

// N·m in one of each unit of torque, exact (ISO 80000, IEEE/ASTM SI 10).
const inNewtonMetres: Record<string, number> = { N_m: 1, ft_lbf: 1.3558179483314, in_lbf: 0.1129848290276167, kgf_m: 9.80665 };

/** The two units of torque that the site has chosen. */
export interface TorqueUnits {
  primaryTorque: string;
  secondaryTorque: string;
}

const torqueIn = (nm: number, unit: string) => {
  const v = nm / (inNewtonMetres[unit] ?? 1);
  return `${num(v, v < 10 ? 1 : 0)} ${unitText(unit in inNewtonMetres ? unit : 'N_m')}`;
};

/** A torque in the site's first unit with the same in its second beside it, both named. */
export const bothTorques = (nm: number, u: TorqueUnits) => `${torqueIn(nm, u.primaryTorque)} (${torqueIn(nm, u.secondaryTorque)})`;

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

export const day = (iso: string) => new Date(iso).toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric', month: 'short' });
