import { afterEach, beforeEach, expect, test } from 'vitest';
import type { Plan, RunEvent } from '../api/client';
import { fold, judge, maySign } from './core';

let calls: string[] = [];
let took: string[] = [];

beforeEach(() => {
  calls = [];
  took = [];
  const state = (extra: string[] = []) => JSON.stringify({ state: { announce: [...took, ...extra].join(' ') } });
  globalThis.dynacorCore = {
    open: (run) => {
      calls.push(`open ${run}`);
      took = [];
      return '{}';
    },
    again: () => {
      calls.push('again');
      took = [];
      return '{}';
    },
    take: (_, json) => {
      const list = (JSON.parse(json) as RunEvent[]).map((e) => `${e.id}${e.note ?? ''}`);
      calls.push(`take ${list.join(' ')}`);
      took.push(...list);
      return state();
    },
    asks: () => '{"asks":{"passes":[],"checks":[]}}',
    judge: (_, json) => {
      calls.push('judge');
      return state([(JSON.parse(json) as RunEvent).id]);
    },
    says: () => '',
    may: (_run, people) =>
      JSON.stringify({ may: (JSON.parse(people) as unknown[]).map(() => [{ purpose: 'tightened' }]) }),
    typed: () => '{}',
    walked: () => '{}',
    noted: () => '{}',
    like: () => '{}',
  };
});
afterEach(() => {
  globalThis.dynacorCore = undefined;
});

const event = (id: string, note?: string) => ({ id, kind: 'noted', ...(note ? { note } : {}) }) as RunEvent;
const plan = () => ({ joint: { tag: 'X' } }) as Plan;

test('core takes each event once, and is asked without taking', () => {
  const p = plan();
  const list = [event('a'), event('b')];
  expect(fold('r1', p, list, 0)?.announce).toBe('a b');
  list.push(event('c'));
  expect(fold('r1', p, list, 0)?.announce).toBe('a b c');
  expect(judge('r1', p, list, event('d'), 0)?.announce).toBe('a b c d');
  expect(fold('r1', p, list, 0)?.announce).toBe('a b c');
  expect(calls).toEqual(['open r1', 'take a b', 'take c', 'take ', 'judge', 'take ']);
});

test('the same event from the device’s memory is the same event', () => {
  const p = plan();
  fold('r2', p, [event('a')], 0);
  fold('r2', p, [structuredClone(event('a')), event('b')], 0);
  expect(calls).toEqual(['open r2', 'take a', 'take b']);
});

test('another order, another event or fewer of them begin anew', () => {
  const p = plan();
  fold('r3', p, [event('a'), event('b')], 0);
  expect(fold('r3', p, [event('b'), event('a')], 0)?.announce).toBe('b a');
  expect(fold('r3', p, [event('b'), event('a', ' as the server has it')], 0)?.announce).toBe(
    'b a as the server has it',
  );
  expect(fold('r3', p, [event('b')], 0)?.announce).toBe('b');
  expect(calls.filter((c) => c === 'again')).toHaveLength(3);
});

test('another plan is opened, and without the rules nothing is said', () => {
  fold('r4', plan(), [event('a')], 0);
  expect(fold('r4', plan(), [event('a')], 0)?.announce).toBe('a');
  expect(calls).toEqual(['open r4', 'take a', 'open r4', 'take a']);
  globalThis.dynacorCore = undefined;
  expect(fold('r4', plan(), [], 0)).toBeUndefined();
  expect(judge('r4', plan(), [], event('a'), 0)).toBeUndefined();
});

test('who may sign is asked of core, and of nobody it is nothing', () => {
  const people = [
    { id: 'a', name: 'A', role: 'technician' },
    { id: 'b', name: 'B', role: 'inspector' },
  ] as const;
  const plan = {} as Plan;
  expect(maySign('run', plan, [], [...people], 0)).toEqual([[{ purpose: 'tightened' }], [{ purpose: 'tightened' }]]);
  if (globalThis.dynacorCore) globalThis.dynacorCore.may = () => '{}';
  expect(maySign('run', plan, [], [], 0)).toEqual([]);
  if (globalThis.dynacorCore) globalThis.dynacorCore.may = () => '{"error":"no"}';
  expect(() => maySign('run', plan, [], [], 0)).toThrow('no');
});
