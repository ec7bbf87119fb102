import { IDBFactory, IDBKeyRange } from 'fake-indexeddb';
import { beforeEach, describe, expect, test, vi } from 'vitest';
import { Refused, type RunEvent } from './client';
import { type Kept, openKept, type Waiting } from './kept';
import { type Ack, firstWait, longestWait, NotKept, Outbox, type Parcel, parcelSize, type World } from './outbox';

const person = { id: 'p-1', name: 'M. Tolley', role: 'technician' } as const;
const note = (id: string) => ({ id, kind: 'noted', at: '2026-11-23T08:00:00Z', person, note: id }) as RunEvent;
const refusal = (status: number, title = 'no') => new Refused({ title, status });

/** A server as far as an outbox sees it: it keeps each event once, and does what a test tells it before that. */
class Server {
  kept: { run: string; id: string }[] = [];
  parcels: string[][] = [];
  before: (run: string, ids: string[], parcel: Parcel) => void = () => undefined;
  after: () => void = () => undefined; // when it has kept them, and before it answers
  refuses: (id: string) => string = () => '';
  slow: Promise<unknown> | undefined; // it answers when this is done

  async events(run: string, parcel: Parcel): Promise<Ack[]> {
    const ids = parcel.events.map((e) => (JSON.parse(e.text) as RunEvent).id);
    this.parcels.push(ids);
    this.before(run, ids, parcel);
    await this.slow;
    const acks = ids.map((id) => {
      const refused = this.refuses(id);
      if (!refused && !this.kept.some((k) => k.id === id)) this.kept.push({ run, id });
      return { seq: refused ? 0 : this.kept.findIndex((k) => k.id === id) + 1, refused };
    });
    this.after();
    return acks;
  }
}

class Clock {
  t = 1_000_000;
  timers: { at: number; act: () => void }[] = [];
  now = () => this.t;
  after = (ms: number, act: () => void) => {
    const timer = { at: this.t + ms, act };
    this.timers.push(timer);
    return () => {
      this.timers = this.timers.filter((x) => x !== timer);
    };
  };
  /** Lets the next timer ring and gives how long that took. */
  ring(): number {
    const [next] = this.timers.sort((a, b) => a.at - b.at);
    if (!next) throw new Error('no timer');
    const waited = next.at - this.t;
    this.t = next.at;
    this.timers = this.timers.filter((x) => x !== next);
    next.act();
    return waited;
  }
}

let factory: IDBFactory;
let server: Server;
let clock: Clock;
let names = 0;
const open = (name = `t${names}`): Kept => openKept(name, { indexedDB: factory, IDBKeyRange });

/** What settling does in a run, without the run. */
const settle = (db: Kept) => async (_: string, sent: Waiting[], acks: Ack[]) => {
  for (const [i, w] of sent.entries()) {
    const a = acks[i];
    if (!a || !w.n) continue;
    if (a.refused) await db.waiting.update(w.n, { refused: a.refused });
    else await db.waiting.delete(w.n);
  }
};

function outbox(db: Kept, change: Partial<World> = {}) {
  return new Outbox({
    db,
    net: { events: (r, p) => server.events(r, p), photo: async () => undefined, reach: async () => undefined },
    clock,
    prove: async (run, text) => `proof of ${text.length} for ${run}`,
    signedIn: () => person.id,
    alone: (act) => act(),
    settled: settle(db),
    ...change,
  });
}

const idle = () => new Promise((r) => setTimeout(r, 20));

beforeEach(() => {
  factory = new IDBFactory();
  server = new Server();
  clock = new Clock();
  names++;
});

describe('what was recorded', () => {
  test('is on the device before anything is sent, and survives a crash between', async () => {
    const first = outbox(open());
    await first.keep('r', note('a'));
    await first.keep('r', note('b'));
    expect(first.get().waiting).toBe(2);
    expect(server.parcels).toEqual([]);

    const next = outbox(open()); // the page was closed; another one opens the same memory
    await next.count();
    expect(next.get().waiting).toBe(2);
    await next.flush();
    expect(server.kept.map((k) => k.id)).toEqual(['a', 'b']);
    expect(next.get().waiting).toBe(0);
  });

  test('goes at once when it was kept while nothing else was there to send', async () => {
    const o = outbox(open());
    const nothing = o.flush();
    await o.keep('r', note('a'));
    await Promise.all([nothing, o.flush()]);
    expect(server.kept.map((k) => k.id)).toEqual(['a']);
    expect(clock.timers).toEqual([]);
  });

  test('is tried again when the device itself failed between', async () => {
    const broken = [new Error('locks are gone'), new Error('and once more')];
    const o = outbox(open(), {
      alone: async (act) => {
        const e = broken.pop();
        if (e) throw e;
        await act();
      },
    });
    await o.keep('r', note('a'));
    await o.flush();
    clock.ring();
    await idle();
    clock.ring();
    await idle();
    expect(server.kept.map((k) => k.id)).toEqual(['a']);
  });

  test('goes once more when the answer was lost, and is one event', async () => {
    const o = outbox(open());
    await o.keep('r', note('a'));
    server.after = () => {
      throw new TypeError('network');
    };
    await o.flush();
    expect(o.get()).toMatchObject({ waiting: 1, since: clock.t });
    server.after = () => undefined;
    await o.flush();
    expect(server.parcels).toEqual([['a'], ['a']]);
    expect(server.kept).toHaveLength(1);
    expect(o.get()).toMatchObject({ waiting: 0, since: undefined });
  });

  test('is sent in its order, a parcel at a time, each run by itself', async () => {
    const o = outbox(open());
    for (let i = 0; i < parcelSize + 3; i++) await o.keep('r', note(`r${i}`));
    await o.keep('s', note('s0'));
    const lefts: number[] = [];
    server.before = (_, __, p) => lefts.push(p.left);
    await o.flush();
    expect(server.kept.filter((k) => k.run === 'r').map((k) => k.id)).toEqual(
      Array.from({ length: parcelSize + 3 }, (_, i) => `r${i}`),
    );
    expect(server.parcels.map((p) => p.length)).toEqual([parcelSize, 1, 3]);
    expect(lefts).toEqual([4, 3, 0]);
  });

  test('is not kept when the device has no room, and that is said', async () => {
    const db = open();
    const o = outbox(db);
    const full = Object.assign(new Error('full'), { name: 'AbortError', inner: { name: 'QuotaExceededError' } });
    vi.spyOn(db.waiting, 'add').mockRejectedValueOnce(full);
    await expect(o.keep('r', note('a'))).rejects.toThrow(/no room left/);
    vi.spyOn(db.waiting, 'add').mockRejectedValueOnce(new Error('broken'));
    await expect(o.keep('r', note('a'))).rejects.toBeInstanceOf(NotKept);
    expect(o.get().waiting).toBe(0);
    await o.keep('r', note('a'));
    expect(o.get().waiting).toBe(1);
  });

  test('by an older program without a proof waits until its person signs in', async () => {
    const db = open();
    await db.waiting.add({ id: 'old', run: 'r', event: { ...note('old'), person: { ...person, id: 'p-2' } } });
    await outbox(db).flush();
    expect(server.kept).toEqual([]);
    await outbox(db, { signedIn: () => 'p-2' }).flush();
    expect(server.kept).toHaveLength(1);
  });
});

describe('a refusal', () => {
  test('of one event holds up no other', async () => {
    const o = outbox(open());
    for (const id of ['a', 'b', 'c']) await o.keep('r', note(id));
    server.refuses = (id) => (id === 'b' ? 'The run is full.' : '');
    await o.flush();
    expect(server.kept.map((k) => k.id)).toEqual(['a', 'c']);
    expect(o.get()).toMatchObject({ waiting: 0, refused: 1 });
  });

  test.each([400, 413, 415, 422])('of a whole parcel with %i finds the event that is the reason', async (status) => {
    const db = open();
    const o = outbox(db);
    for (let i = 0; i < 16; i++) await o.keep('r', note(`e${i}`));
    server.before = (_, ids) => {
      if (ids.includes('e11')) throw refusal(status, 'The event has a text of more than 4000 characters.');
    };
    await o.flush();
    expect(server.kept.map((k) => k.id)).toEqual(
      Array.from({ length: 16 }, (_, i) => `e${i}`).filter((id) => id !== 'e11'),
    );
    expect(o.get()).toMatchObject({ waiting: 0, refused: 1 });
    expect((await db.waiting.toArray()).map((w) => [w.id, w.refused])).toEqual([
      ['e11', 'The event has a text of more than 4000 characters.'],
    ]);
    expect(server.parcels.length).toBeLessThan(12);
  });

  test('of a run that is not there is told of each event, and other runs go on', async () => {
    const o = outbox(open());
    for (const id of ['a', 'b']) await o.keep('gone', note(id));
    await o.keep('r', note('c'));
    server.before = (run) => {
      if (run === 'gone') throw refusal(404, 'There is no run gone.');
    };
    await o.flush();
    expect(server.kept.map((k) => k.id)).toEqual(['c']);
    expect(o.get()).toMatchObject({ waiting: 0, refused: 2 });
    expect(server.parcels).toHaveLength(2);
  });

  test('may be sent again, or put aside and kept', async () => {
    const db = open();
    const o = outbox(db);
    await o.keep('r', note('a'));
    await o.keep('r', note('b'));
    server.refuses = () => 'no';
    await o.flush();
    const [a, b] = await db.waiting.orderBy('n').toArray();
    server.refuses = () => '';
    await o.retry(a?.n ?? 0);
    expect(server.kept.map((k) => k.id)).toEqual(['a']);
    await o.putAside(b?.n ?? 0);
    expect(o.get()).toMatchObject({ waiting: 0, refused: 0 });
    expect(await db.aside.toArray()).toMatchObject([{ id: 'b', refused: 'no', event: { note: 'b' } }]);
  });

  test('that is being tried again is put aside when it is refused again', async () => {
    const db = open();
    const o = outbox(db);
    const w = await o.keep('r', note('a'));
    server.refuses = () => 'no';
    await o.flush();
    server.slow = new Promise((r) => setTimeout(r, 120));
    await Promise.all([o.retry(w.n ?? 0), idle().then(() => o.putAside(w.n ?? 0))]);
    expect(await db.aside.count()).toBe(1);
    expect(o.get()).toMatchObject({ waiting: 0, refused: 0 });
  });

  test('that was told to go again a moment ago is put aside all the same', async () => {
    const db = open();
    const o = outbox(db);
    const w = await o.keep('r', note('a'));
    server.refuses = () => 'no';
    await o.flush();
    await Promise.all([o.retry(w.n ?? 0), o.putAside(w.n ?? 0)]);
    expect(server.parcels).toHaveLength(2);
    expect(await db.aside.count()).toBe(1);
    expect(o.get()).toMatchObject({ waiting: 0, refused: 0 });
  });

  test('goes again at once when it is told so while others are under way', async () => {
    const db = open();
    const o = outbox(db);
    const w = await o.keep('r', note('a'));
    server.refuses = () => 'no';
    await o.flush();
    server.refuses = () => '';
    await o.keep('q', note('b'));
    server.slow = new Promise((r) => setTimeout(r, 120));
    server.after = () => {
      server.after = () => undefined;
      throw refusal(503);
    };
    const others = o.flush();
    await idle();
    await Promise.all([o.retry(w.n ?? 0), others]);
    expect(server.kept.map((k) => k.id)).toEqual(['b', 'a']);
  });

  test('is what puts an event aside: one that still waits is not', async () => {
    const db = open();
    const o = outbox(db);
    const w = await o.keep('r', note('a'));
    await o.putAside(w.n ?? 0);
    expect(await db.aside.count()).toBe(0);
    expect(await db.waiting.count()).toBe(1);
  });

  test.each([401, 403, 409, 429, 500, 503])('with %i drops nothing and is said', async (status) => {
    const o = outbox(open());
    await o.keep('r', note('a'));
    server.before = () => {
      throw refusal(status, 'Not now.');
    };
    await o.flush();
    expect(o.get()).toMatchObject({
      waiting: 1,
      refused: 0,
      since: undefined,
      wants: status === 401 ? 'Sign in, then it is sent.' : 'Not now.',
    });
    server.before = () => undefined;
    await o.wake();
    expect(o.get()).toMatchObject({ waiting: 0, wants: undefined });
  });

  test.each([
    [404, 1],
    [413, 1],
    [500, 0],
    [429, 0],
  ])('of a picture with %i marks %i', async (status, marked) => {
    const db = open();
    const o = outbox(db, {
      net: {
        events: (r, p) => server.events(r, p),
        photo: async () => {
          throw refusal(status);
        },
        reach: async () => undefined,
      },
    });
    await o.keepPhoto('ph', 'r', new Blob(['x']));
    await o.flush();
    expect(o.get()).toMatchObject({ refused: marked, waiting: 1 - marked });
    expect(await db.photos.count()).toBe(1);
  });
});

describe('without signal', () => {
  test('it waits longer after each try, and at most a minute', async () => {
    const o = outbox(open());
    await o.keep('r', note('a'));
    server.before = () => {
      throw new TypeError('network');
    };
    await o.flush();
    const waits: number[] = [];
    for (let i = 0; i < 8; i++) {
      waits.push(clock.ring());
      await idle();
    }
    expect(waits[0]).toBeGreaterThanOrEqual(firstWait * 2 * 0.8);
    for (let i = 1; i < 4; i++) expect(waits[i]).toBeGreaterThan((waits[i - 1] ?? 0) * 1.2);
    expect(Math.max(...waits)).toBeLessThanOrEqual(longestWait * 1.2);
    server.before = () => undefined;
    await o.wake(); // the network is back
    expect(server.kept).toHaveLength(1);
    expect(clock.timers).toEqual([]);
  });

  test('and with nothing to send it asks whether the server is back', async () => {
    let there = false;
    const o = outbox(open(), {
      net: {
        events: (r, p) => server.events(r, p),
        photo: async () => undefined,
        reach: async () => {
          if (!there) throw new TypeError('network');
        },
      },
    });
    o.signal(false);
    expect(o.get().since).toBe(clock.t);
    await o.flush();
    expect(o.get().since, 'nothing was asked, so nothing is known').toBe(clock.t);
    clock.ring();
    await idle();
    expect(o.get().since).toBeDefined();
    there = true;
    clock.ring();
    await idle();
    expect(o.get().since).toBeUndefined();
    expect(clock.timers).toEqual([]);
  });
});

test('an answer to anything else sends what waits', async () => {
  const o = outbox(open());
  await o.keep('r', note('a'));
  server.before = () => {
    throw new TypeError('network');
  };
  await o.flush();
  server.before = () => undefined;
  o.signal(true); // a page asked for something, and the server answered
  await idle();
  expect(server.kept).toHaveLength(1);
});

test('two pages of one device send everything once, and one after the other', async () => {
  let turn: Promise<unknown> = Promise.resolve();
  const alone = (act: () => Promise<void>) => {
    const mine = turn.then(act);
    turn = mine.catch(() => undefined);
    return mine;
  };
  const db1 = open();
  const db2 = open();
  const one = outbox(db1, { alone });
  const two = outbox(db2, { alone });
  for (let i = 0; i < 5; i++) {
    await one.keep('r', note(`one${i}`));
    await two.keep('r', note(`two${i}`));
  }
  await Promise.all([one.flush(), two.flush(), one.flush()]);
  expect(server.kept).toHaveLength(10);
  expect(server.parcels.flat()).toHaveLength(10);
  expect(one.get().waiting).toBe(0);
  expect(two.get().waiting).toBe(0);
});
