import type { PressureTest } from '../../api/client';

type Point = readonly [number, number]; // minutes from the beginning, bar

/** What is drawn of a test: as planned and as read, minutes from the first reading. */
export function curves(v: PressureTest, now: number) {
  const first = v.state.trace[0]?.at;
  const zero = first ? Date.parse(first) : now;
  const minutes = (iso: string) => (Date.parse(iso) - zero) / 60_000;
  const read = v.state.trace.map((p): Point => [minutes(p.at), p.bar]);
  const planned = v.planned.map((p): Point => [p.min, p.bar]);
  const temps = v.state.trace.flatMap((p): Point[] => (p.tempC === undefined ? [] : [[minutes(p.at), p.tempC]]));
  const here = (now - zero) / 60_000;
  const end = Math.max(10, ...planned.map((p) => p[0]), ...read.map((p) => p[0]), v.sealed ? 0 : here) * 1.03;
  const top = Math.max(v.spec.testBar ?? 0, ...planned.map((p) => p[1]), ...read.map((p) => p[1]), 0.001) * 1.12;
  return { zero, read, planned, temps, here, end, top, minutes };
}

/** Round steps of an axis, six to ten of them. */
export function ticks(end: number): number[] {
  const rough = end / 7;
  const ten = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 5, 10].map((k) => k * ten).find((s) => s >= rough) ?? ten * 10;
  return Array.from({ length: Math.floor(end / step + 1e-9) + 1 }, (_, i) => Math.round(i * step * 1e9) / 1e9);
}

/** What is left of a time, as a clock shows it; nothing below zero. */
export function left(until: string | undefined, now: number): string {
  if (!until) return '';
  const s = Math.max(0, Math.ceil((Date.parse(until) - now) / 1000));
  const rest = `${String(Math.floor(s / 60) % 60).padStart(2, '0')}:${String(s % 60).padStart(2, '0')}`;
  return s >= 3600 ? `${Math.floor(s / 3600)}:${rest}` : rest;
}

/** How much of a hold is over, 0 to 1. */
export function share(since: string, until: string, now: number): number {
  const from = Date.parse(since);
  const whole = Date.parse(until) - from;
  return whole <= 0 ? 1 : Math.min(1, Math.max(0, (now - from) / whole));
}
