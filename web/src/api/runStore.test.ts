import 'fake-indexeddb/auto';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { RunView } from './client';
import { db, type Waiting } from './kept';
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
    walked: () => '{}',
    noted: () => '{}',
    like: () => '{}',
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

/** A run with the entries of the numbers given. */
const upTo = (...seqs: number[]) =>
  ({
    ...view,
    entries: seqs.map((seq) => ({ seq, hash: `h${seq}`, event: { id: `e${seq}` } })),
  }) as unknown as RunView;

/** Holds back once what a device's memory says, until it is let go. */
function holdBack(): () => void {
  let go: () => void = () => undefined;
  const held = new Promise<void>((done) => {
    go = done;
  });
  const where = db.aside.where.bind(db.aside);
  vi.spyOn(db.aside, 'where').mockImplementationOnce(((key: string) => ({
    equals: (v: string) => ({ sortBy: (by: string) => held.then(() => where(key).equals(v).sortBy(by)) }),
  })) as never);
  return go;
}

test('what was read before is not put over what was read since, however slow the device is', async () => {
  const s = new RunStore('r', outbox);
  await s.put(upTo(1));
  const letGo = holdBack();
  const slow = s.put(upTo(1, 2));
  await s.put(upTo(1, 2, 3));
  letGo();
  await slow;
  expect(s.get().view?.entries).toHaveLength(3);
  expect(await s.head()).toBe('h3');
  expect((await db.runs.get('r'))?.view.entries).toHaveLength(3);
});

test('what is recorded while the device is asked what it holds does not vanish', async () => {
  const s = new RunStore('r', {
    keep: async (run: string, event: { id: string }) => {
      const w = { id: event.id, run, event, text: '' } as unknown as Waiting;
      w.n = await db.waiting.add({ ...w });
      return w;
    },
    flush: async () => undefined,
  } as unknown as Outbox);
  await s.put(view);
  const letGo = holdBack();
  const slow = s.put(upTo(1));
  await s.add(people[0] as never, { kind: 'noted', note: 'all went well' });
  letGo();
  await slow;
  expect(s.get().waiting).toHaveLength(1);
  await db.waiting.clear();
});

test('what another device added while an answer was taken in stays', async () => {
  const s = new RunStore('r', outbox);
  await s.put(upTo(1));
  const sent = { id: 'e2', run: 'r', event: { id: 'e2' }, text: '' } as unknown as Waiting;
  sent.n = await db.waiting.add({ ...sent });
  const remove = db.waiting.delete.bind(db.waiting);
  vi.spyOn(db.waiting, 'delete').mockImplementationOnce((async (n: number) => {
    await s.hear({ seq: 3, entries: upTo(2, 3).entries });
    return remove(n);
  }) as never);
  await s.settle([sent], [{ seq: 2, refused: '' }]);
  expect(s.get().view?.entries.map((e) => e.seq)).toEqual([1, 2, 3]);
  expect(s.get().waiting).toEqual([]);
});

test('what is kept is sent at once, though the rules are still being loaded', async () => {
  vi.spyOn(await import('../core/core'), 'loadCore').mockReturnValue(new Promise(() => undefined));
  let flushed = 0;
  const s = new RunStore('r', {
    keep: async (run: string, event: { id: string }) => ({ id: event.id, run, event, n: 1 }),
    flush: async () => {
      flushed++;
    },
  } as unknown as Outbox);
  await s.put(view);
  void s.add(people[0] as never, { kind: 'noted', note: 'all went well' });
  await vi.waitFor(() => expect(flushed).toBe(1));
});
