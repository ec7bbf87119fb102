import type { KindView, Tool } from '../../api/client';
import { plainFigure } from '../../kit/figures';

export const blank: Tool = {
  tag: '',
  maker: '',
  serial: '',
  kind: 'click',
  unit: 'N_m',
  ratedMin: 0,
  ratedMax: 0,
  printedMin: 0,
  mainStep: 0,
  graduation: 0,
  accuracyPct: 0,
  drive: '',
  lock: '',
  storageRule: '',
  mayLoosen: false,
  place: 'crib',
  state: 'in_service',
  certificate: '',
  calibratedOn: '',
  calibrationEnds: '',
};

export const units: Record<string, [string, string][]> = {
  torque: [
    ['N_m', 'N·m'],
    ['ft_lbf', 'ft·lbf'],
    ['in_lbf', 'in·lbf'],
    ['kgf_m', 'kgf·m'],
    ['cN_m', 'cN·m'],
  ],
  pressure: [
    ['bar', 'bar'],
    ['MPa', 'MPa'],
    ['psi', 'psi'],
  ],
  length: [
    ['mm', 'mm'],
    ['in', 'in'],
  ],
};

export const wrenches = ['click', 'preset', 'dial', 'electronic', 'electronic_angle', 'screwdriver'];
type Num =
  | 'ratedMin'
  | 'ratedMax'
  | 'printedMin'
  | 'mainStep'
  | 'graduation'
  | 'accuracyPct'
  | 'maxNm'
  | 'lengthMm'
  | 'diameterMm'
  | 'acrossFlatsMm'
  | 'areaMm2'
  | 'strokeMm'
  | 'maxMPa'
  | 'lossA'
  | 'lossB'
  | 'massKg'
  | 'cycleLimit';

/** The number fields that a kind has, in order. */
export function numbers(k: KindView): [Num, string][] {
  const is = (...list: string[]) => list.includes(k.kind);
  const all: [boolean, Num, string][] = [
    [k.scale !== '' && !is('preset'), 'ratedMin', 'Rated from'],
    [k.scale !== '', 'ratedMax', is('preset') ? 'Preset to' : is('pump') ? 'Goes to (limit)' : 'Rated to (full scale)'],
    [is('click', 'screwdriver'), 'printedMin', 'Lowest mark printed'],
    [is('click', 'screwdriver', 'dial', 'pump', 'pressure_gauge'), 'mainStep', 'Main line every'],
    [
      k.scale !== '',
      'graduation',
      is('click') ? 'One mark on the grip' : is('electronic', 'electronic_angle') ? 'Last digit shown' : 'One mark',
    ],
    [
      k.scale !== '' || is('hydraulic_wrench', 'tensioner'),
      'accuracyPct',
      is('hydraulic_wrench', 'tensioner') ? 'Its chart is good to, ± %' : 'Accuracy, ± %',
    ],
    [
      is('multiplier', 'hydraulic_wrench', 'adapter', 'extension', 'socket'),
      'maxNm',
      is('multiplier', 'hydraulic_wrench') ? 'Puts out at most, N·m' : 'Bears at most, N·m',
    ],
    [is('hydraulic_wrench', 'tensioner', 'hose'), 'maxMPa', 'Pressure at most, MPa'],
    [
      is(...wrenches, 'adapter', 'extension', 'hose', 'hydraulic_wrench'),
      'lengthMm',
      is(...wrenches)
        ? 'Square to middle of the grip, mm'
        : is('adapter')
          ? 'Square to nut, mm'
          : is('hydraulic_wrench')
            ? 'Reaction arm, mm'
            : 'Length, mm',
    ],
    [is('extension', 'tensioner'), 'diameterMm', is('tensioner') ? 'For bolts of, mm' : 'Shaft diameter, mm'],
    [
      is('adapter', 'socket', 'hydraulic_wrench'),
      'acrossFlatsMm',
      is('hydraulic_wrench') ? 'Hexagon of a link, mm' : 'Hexagon, mm',
    ],
    [is('tensioner'), 'areaMm2', 'Piston area, mm²'],
    [is('tensioner'), 'strokeMm', 'Stroke, mm'],
    [is('tensioner'), 'lossA', 'Transfer loss, constant part'],
    [is('tensioner'), 'lossB', 'Transfer loss, part with d/L'],
    [true, 'massKg', 'Mass, kg'],
    [k.dated, 'cycleLimit', 'Pulls between calibrations'],
  ];
  return all.filter(([on]) => on).map(([, f, label]) => [f, label]);
}

export const chartText = (t: Tool) => (t.chart ?? []).map((p) => `${p.pressureMPa} ${p.torqueNm}`).join('\n');

export const pointText = (t: Tool) =>
  (t.points ?? []).map((p) => `${p.set} ${p.actual}${p.anticlockwise ? ' anticlockwise' : ''}`).join('\n');

export const pair = (line: string) => line.trim().split(/[\s;:]+/);

export const number = (s: string | undefined) => plainFigure(s ?? '');

export const lines = (s: string) => s.split('\n').filter((l) => l.trim());
