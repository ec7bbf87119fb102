import type { ReactNode } from 'react';
import type { Answer } from '../../../core/calc';
import { Bolt } from './Bolt';
import { Band, Pump, Shrink, Trace } from './curves';
import { Adapter, Multiplier, Scale } from './tools';
import { Clock, Gap, Order, Thread } from './views';

export interface Facts {
  num: (symbol: string) => number | undefined; // a figure of the working, in its own unit
  answer: Answer | undefined;
  values: Record<string, unknown>;
}

/** A picture of a sheet, with the places of its inputs: x, y in the picture, and the side their box stands on. */
export interface Drawing {
  size: [number, number];
  max?: number;
  label: string;
  seen?: string;
  anchors: Record<string, [number, number, 'l' | 'r']>;
  draw: (f: Facts) => ReactNode;
}

const none = {};

export const drawings: Record<string, Drawing> = {
  bolt: {
    size: [260, 400],
    label: 'Bolt and nut in section',
    seen: 'section through the bolt',
    anchors: {
      torque_Nm: [76, 46, 'l'],
      K: [62, 150, 'l'],
      mu_thread: [86, 110, 'l'],
      preload_kN: [124, 240, 'l'],
      yield_MPa: [110, 330, 'l'],
      diameter_mm: [178, 58, 'r'],
      pitch_mm: [176, 66, 'r'],
      d2_mm: [173, 100, 'r'],
      mu_head: [200, 148, 'r'],
      bearing_mean_mm: [190, 156, 'r'],
    },
    draw: Bolt,
  },
  adapter: {
    size: [320, 236],
    max: 250,
    label: 'Wrench with an adapter from above',
    seen: 'from above, nut at the left',
    anchors: none,
    draw: Adapter,
  },
  multiplier: {
    size: [320, 210],
    max: 230,
    label: 'Multiplier with its reaction arm',
    seen: 'from the side of the tool',
    anchors: none,
    draw: Multiplier,
  },
  scale: { size: [320, 130], max: 150, label: 'Main scale and grip at this setting', anchors: none, draw: Scale },
  band: { size: [560, 150], max: 180, label: 'Load band against yield', anchors: none, draw: Band },
  pump: { size: [560, 220], max: 240, label: 'Torque over pressure', anchors: none, draw: Pump },
  shrink: { size: [560, 220], max: 240, label: 'Play over temperature', anchors: none, draw: Shrink },
  trace: { size: [560, 240], max: 260, label: 'Torque over angle', anchors: none, draw: Trace },
  gap: {
    size: [300, 300],
    max: 300,
    label: 'Gap around the joint with the direction of its tilt',
    seen: 'first reading at the top, clockwise',
    anchors: none,
    draw: Gap,
  },
  order: {
    size: [300, 300],
    max: 320,
    label: 'Order of the bolts',
    seen: 'from the nuts, bolt 1 at the top',
    anchors: none,
    draw: Order,
  },
  clock: { size: [240, 262], max: 262, label: 'Clock face', seen: 'from the nut', anchors: none, draw: Clock },
  thread: { size: [320, 200], max: 220, label: 'Thread profile', anchors: none, draw: Thread },
};
