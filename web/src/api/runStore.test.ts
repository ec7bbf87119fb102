import 'fake-indexeddb/auto';
import { afterEach, beforeEach, expect, test } from 'vitest';
import type { RunView } from './client';
import type { Outbox } from './outbox';
import { RunStore } from './runStore';

const people = [
  { id: 'a', name: 'M. Tolley', role: 'technician' },
  { id: 'b', name: 'R. Abara', role: 'inspector' },
];
const view = { id: 'r', plan: { rows: [] }, entries: [], joint: { tag: 'SW-1' }, state: {} } as unknown as RunView;
const outbox = {} as Outbox;

let asked: unknown[] = [];
beforeEach(() => {
  asked = [];
  globalThis.dynacorCore = {
    open: () => '{}',
    again: () => '{}',
    take: () => '{"state":{"announce":"x"}}',
    asks: () => '{"asks":{"passes":[],"checks":[]}}',
    judge: () => '{"state":{}}',
    says: (_run, json) => (json.includes('"x"') ? 'reason says too little' : ''),
    may: (_run, json) => {
      asked = JSON.parse(json) as unknown[];
      return JSON.stringify({
        may: [
          [{ purpose: 'hold', check: 'isolation' }],
          [
            { purpose: 'deviation', ref: 'e/over' },
            { purpose: 'hold', check: 'isolation' },
          ],
        ],
      });
    },
    typed: () => '{}',
  };
});
afterEach(() => {
  globalThis.dynacorCore = undefined;
});

test('an event that the rules would refuse is told at once and kept nowhere', async () => {
  const store = new RunStore('r', outbox);
  await store.put(view);
  const add = store.add(people[0] as never, { kind: 'check_answered', check: 'gap', answer: 'na', reason: 'x' });
  await expect(add).rejects.toThrow('says too little');
  expect(store.get().waiting).toEqual([]);
  expect(store.get().notKept).toBeUndefined();
});

test('a signature is offered to those whose it is, by purpose, check and deviation', async () => {
  const s = new RunStore('r', outbox);
  expect(s.maySign(people, { purpose: 'hold', check: 'isolation' })).toEqual(people); // nothing is known yet: the server decides
  await s.put(view);
  expect(s.maySign(people, { purpose: 'hold', check: 'isolation' })).toEqual(people);
  expect(asked).toEqual(people);
  expect(s.maySign(people, { purpose: 'deviation', ref: 'e/over' })).toEqual([people[1]]);
  expect(s.maySign(people, { purpose: 'deviation', ref: 'e/held' })).toEqual([]);
  expect(s.maySign(people, { purpose: 'hold', check: 'other' })).toEqual([]);
  expect(s.maySign(people, { purpose: 'proved' })).toEqual([]);
});

test('without the rules everybody is offered, and the server decides', async () => {
  const s = new RunStore('r', outbox);
  await s.put(view);
  globalThis.dynacorCore = undefined;
  expect(s.maySign(people, { purpose: 'proved' })).toEqual(people);
});

test('a chain only grows: a shorter one was read before', async () => {
  const s = new RunStore('r', outbox);
  const entry = { seq: 1, event: { id: 'e1' } };
  await s.put({ ...view, entries: [entry] } as unknown as RunView);
  await s.put(view);
  expect(s.get().view?.entries).toHaveLength(1);
});

test('listeners hear of what is put, until they leave', async () => {
  const s = new RunStore('r', outbox);
  let heard = 0;
  const leave = s.subscribe(() => {
    heard++;
  });
  await s.put(view);
  expect(heard).toBe(1);
  leave();
  await s.put(view);
  expect(heard).toBe(1);
});
