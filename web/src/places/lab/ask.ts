import type { components } from '../../api/schema';

export type LabSetup = components['schemas']['LabSetup'];

export type LabBench = components['schemas']['LabBench'];

export type LabMeasured = components['schemas']['LabMeasured'];

export type LabFitted = components['schemas']['LabFitted'];

export interface Overlay {
  of: LabMeasured['of'];
  unit: string;
  bolts: { bolt: number; measured: number; expected: number; misfit: boolean }[];
  levelPct: number;
  correlation?: number;
  sentence: string;
}

export type FlangeSize = components['schemas']['FlangeSize'];

export type LabProcedure = components['schemas']['LabProcedure'];

export interface LabSearch {
  tag?: string;
  run?: string; // record whose measurement is laid over
  joint?: LabSetup;
  a?: LabProcedure;
  b?: LabProcedure;
}

export interface Outcome {
  word: string;
  forces: number[];
  lowest: number;
  min: number;
  max: number;
  even: number;
  stress: number;
  highest: number;
  yieldPct: number;
  pulls: number;
  minutes: number;
  tiltMm: number;
  steps: { bolts: number[]; angle: number[]; pass: number }[];
  passes: { word: string; step: number }[];
  history: number[][];
  gasket: number[][];
  gap: number[][];
  tiltMms: number[];
  holds: boolean;
  needKnown: boolean;
  sentence: string;
  uneven: boolean;
  enough: number; // percent from where on bolts are even
}

export interface LabJoint {
  setup: LabSetup;
  estimated: string[];
  figures: { name: string; value: number; unit: string; source: string }[];
}

export interface Chances {
  n: number;
  window: number;
  inside: number;
  holds: number;
  band: [number, number, number][];
  even: number;
}

export interface Buy {
  what: string;
  inside: number;
  even: number;
  pulls: number;
  minutes: number;
}

export interface Advice {
  procedure: LabProcedure;
  word: string;
  pulls: number;
  minutes: number;
  even: number;
  tried: number;
  enough: boolean;
}

export interface Compensated {
  procedure: LabProcedure;
  ratio: number;
  even: number;
  softer: number;
  stiffer: number;
  yields: boolean;
  percents: number[];
  asPlanned: boolean;
}

/** What the lab does not compute, by the field it is about. */
export class LabRefusal extends Error {
  constructor(
    readonly field: string,
    why: string,
    remedy: string | undefined,
  ) {
    super([field && `${field}:`, `${why}.`, remedy].filter(Boolean).join(' '));
  }
}

interface Answers {
  of: LabJoint;
  laws: { code: string; name: string; mm: number }[];
  sizes: FlangeSize[];
  sized: LabSetup;
  play: Outcome;
  compare: { sentence: string; sure: string };
  draw: Chances;
  buys: Buy[];
  advise: Advice;
  compensate: Compensated;
  overlay: Overlay;
  typed: LabMeasured;
  fit: LabFitted;
}

/** A question of the lab's tables is about no joint. */
export const nothing = {} as LabSetup;

interface Question {
  setup: LabSetup;
  procedure?: LabProcedure;
  other?: LabProcedure;
  planned?: LabProcedure | undefined;
  seed?: number;
  first?: number;
  n?: number;
  window?: number;
  even?: number;
  size?: FlangeSize;
  runs?: LabMeasured[];
  text?: string;
  of?: string;
}

let worker: Worker | undefined;
let next = 0;
const waiting = new Map<number, (answer: string) => void>();

/** Asks the lab, which computes in a worker of its own. */
export async function ask<K extends keyof Answers>(name: K, question: Question): Promise<Answers[K]> {
  if (!worker) {
    worker = new Worker(new URL('./lab.worker.ts', import.meta.url), { type: 'module' });
    worker.addEventListener('message', (e: MessageEvent<{ id: number; answer: string }>) => {
      waiting.get(e.data.id)?.(e.data.answer);
      waiting.delete(e.data.id);
    });
  }
  const id = next++;
  const answer = await new Promise<string>((done) => {
    waiting.set(id, done);
    worker?.postMessage({ id, name, question: JSON.stringify(question) });
  });
  const got = JSON.parse(answer) as { value?: Answers[K]; refusal?: { field: string; why: string; remedy?: string } };
  if (got.refusal) throw new LabRefusal(got.refusal.field, got.refusal.why, got.refusal.remedy);
  return got.value as Answers[K];
}
