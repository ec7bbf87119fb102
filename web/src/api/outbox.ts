import { useEffect, useState, useSyncExternalStore } from 'react';
import { v7 as uuidv7 } from 'uuid';
import { fold, loadCore, sha256 } from '../core/core';
import { api, type Entry, must, type Person, Refused, type RunEvent, type RunState, type RunView } from './client';
import { proveEvent } from './deviceKey';
import { db, type Waiting } from './kept';

/** How an event names a picture: by its identifier, and by the digest of its bytes, so that no other can stand in for it. */
export interface KeptPhoto {
  photo: string;
  photoSha256: string;
}

// ---- what the sync mark tells ----

export interface SyncState {
  waiting: number;
  refused: number;
  since: number | undefined; // no signal since, ms
  clockOff: number; // by how many ms this device's clock is ahead, when that is more than a moment; else 0
}

let sync: SyncState = { waiting: 0, refused: 0, since: undefined, clockOff: 0 };
const syncListeners = new Set<() => void>();

function setSync(change: Partial<SyncState>) {
  sync = { ...sync, ...change };
  for (const l of syncListeners) l();
}

const listenSync = (l: () => void) => {
  syncListeners.add(l);
  return () => syncListeners.delete(l);
};

export const useSync = () => useSyncExternalStore(listenSync, () => sync);

async function count() {
  const all = await db.waiting.toArray();
  const refused = all.filter((w) => w.refused).length;
  const photos = await db.photos.toArray();
  const notTaken = photos.filter((p) => p.refused).length;
  setSync({ waiting: all.length - refused + photos.length - notTaken, refused: refused + notTaken });
}

// ---- a run on this device ----

export interface LocalRun {
  view: RunView | undefined;
  state: RunState | undefined;
  waiting: Waiting[];
  problem: string | undefined; // why it could not be opened
}

const stores = new Map<string, RunStore>();

/** A run as this device knows it: the server's chain, and what is still waiting here. */
export class RunStore {
  private value: LocalRun = { view: undefined, state: undefined, waiting: [], problem: undefined };
  private readonly listeners = new Set<() => void>();

  constructor(readonly id: string) {}

  subscribe = (l: () => void) => {
    this.listeners.add(l);
    return () => this.listeners.delete(l);
  };
  get = () => this.value;

  private set(change: Partial<LocalRun>) {
    this.value = { ...this.value, ...change };
    this.fold();
    for (const l of this.listeners) l();
  }

  /** The events that count here: acknowledged ones, then those waiting. */
  events(): RunEvent[] {
    const acknowledged = this.value.view?.entries.map((e) => e.event) ?? [];
    const known = new Set(acknowledged.map((e) => e.id));
    return [...acknowledged, ...this.value.waiting.filter((w) => !w.refused && !known.has(w.id)).map((w) => w.event)];
  }

  private fold() {
    const { view } = this.value;
    if (!view) return;
    const state = view.record ? view.state : (fold(this.id, view.plan, this.events(), Date.now()) ?? view.state);
    this.value = { ...this.value, state };
  }

  /** What the state would be with one more event, without recording it: how a pull is judged before it is kept. */
  judge(event: RunEvent): RunState | undefined {
    const { view } = this.value;
    if (!view) return undefined;
    return fold(this.id, view.plan, [...this.events(), event], Date.now());
  }

  async open() {
    void loadCore().then(
      () => this.set({}),
      () => undefined,
    );
    const kept = await db.runs.get(this.id);
    const waiting = await db.waiting.where('run').equals(this.id).sortBy('n');
    if (kept && !this.value.view) this.set({ view: kept.view, waiting });
    else this.set({ waiting });
    await this.refresh();
  }

  /** Asks the server; without an answer what is kept here stays. */
  async refresh() {
    try {
      const view = await must(api.GET('/runs/{id}', { params: { path: { id: this.id } } }));
      setSync({ since: undefined });
      await this.put(view);
    } catch (e) {
      if (e instanceof Refused) this.set({ problem: this.value.view ? undefined : e.message });
      else {
        setSync({ since: sync.since ?? Date.now() });
        if (!this.value.view) this.set({ problem: (e as Error).message });
      }
    }
  }

  async put(view: RunView) {
    // A chain only grows: a shorter one was read before what has been acknowledged since.
    if (view.entries.length < (this.value.view?.entries.length ?? 0)) return;
    await db.runs.put({ id: this.id, tag: view.joint.tag, view });
    const waiting = await db.waiting.where('run').equals(this.id).sortBy('n');
    this.set({ view, waiting, problem: undefined });
  }

  /** Keeps an event: on the device first, then it is sent. It counts at once. */
  async add(person: Person, event: Partial<RunEvent> & Pick<RunEvent, 'kind'>): Promise<RunEvent> {
    const full = this.complete(person, event);
    const text = JSON.stringify(full);
    const w: Waiting = { id: full.id, run: this.id, event: full, text, proof: await proveEvent(this.id, text) };
    w.n = await db.waiting.add(w);
    setSync({ waiting: sync.waiting + 1 }); // counted before it shows: "all kept" is never said of what is still here
    await loadCore().catch(() => undefined); // without the rules the next question would be the old one; settle asks the server then
    this.set({ waiting: [...this.value.waiting, w] });
    await count();
    void flush();
    return full;
  }

  /** An event with identifier, time and person. */
  complete(person: Person, event: Partial<RunEvent> & Pick<RunEvent, 'kind'>): RunEvent {
    return { ...event, id: uuidv7(), at: new Date().toISOString(), person } as RunEvent;
  }

  /** Takes in what the server said of events sent, in their order. */
  async settle(sent: Waiting[], acks: { seq: number; refused: string }[]) {
    const { view } = this.value;
    const entries: Entry[] = [];
    for (const [i, w] of sent.entries()) {
      const a = acks[i];
      if (!a || !w.n) continue;
      if (a.refused) {
        await db.waiting.update(w.n, { refused: a.refused });
      } else {
        entries.push({ seq: a.seq, receivedAt: new Date().toISOString(), prevHash: '', hash: '', event: w.event });
        await db.waiting.delete(w.n);
      }
    }
    const known = new Set(view?.entries.map((e) => e.event.id));
    const last = view?.entries.length ?? 0;
    const fresh = entries.filter((e) => !known.has(e.event.id));
    const next = view && { ...view, entries: [...view.entries, ...fresh] };
    if (next) await db.runs.put({ id: this.id, tag: next.joint.tag, view: next });
    const waiting = await db.waiting.where('run').equals(this.id).sortBy('n');
    this.set(next ? { view: next, waiting } : { waiting });
    // Another device may have added events between: the server's order is the one that counts.
    if (!globalThis.dynacorCore || fresh.some((e, i) => e.seq !== last + i + 1)) await this.refresh();
  }

  /** Takes in what was added elsewhere: the entries that came with the note, or those behind the ones known here. seq 0: look at everything again. */
  async hear(note: { seq: number; entries?: Entry[] }): Promise<void> {
    const { view } = this.value;
    if (!view || note.seq === 0 || !globalThis.dynacorCore) return this.refresh();
    const have = view.entries.length;
    if (note.seq <= have) return;
    let fresh = note.entries ?? [];
    if (fresh[0]?.seq !== have + 1) {
      try {
        fresh = await must(api.GET('/runs/{id}/events', { params: { path: { id: this.id }, query: { after: have } } }));
      } catch {
        return this.refresh();
      }
    }
    const now = this.value.view; // what was sent from here meanwhile may have been acknowledged
    if (!now || now.entries.length !== have) return this.hear({ seq: note.seq });
    await this.put({ ...now, entries: [...now.entries, ...fresh] });
  }

  /** The hash of the last entry, to which a signature is bound; asked for when it is not known here. */
  async head(): Promise<string> {
    if (!this.value.view?.entries.at(-1)?.hash) await this.refresh();
    return this.value.view?.entries.at(-1)?.hash ?? '';
  }

  /** Throws away an event that the server refused, after the person has read why. */
  async discard(id: string) {
    const w = this.value.waiting.find((x) => x.id === id);
    if (w?.n && w.refused) await db.waiting.delete(w.n);
    this.set({ waiting: this.value.waiting.filter((x) => x.id !== id) });
    await count();
  }
}

export function runStore(id: string): RunStore {
  let s = stores.get(id);
  if (!s) {
    s = new RunStore(id);
    stores.set(id, s);
  }
  return s;
}

/** The run of a joint as kept on this device, for opening without network. */
export async function keptRun(tag: string): Promise<string | undefined> {
  const list = await db.runs.where('tag').equals(tag).toArray();
  return list.sort((a, b) => (a.id < b.id ? 1 : -1))[0]?.id;
}

/** Keeps a picture on the device and sends it when there is signal. */
export async function keepPhoto(run: string, data: Blob): Promise<KeptPhoto> {
  const kept = { photo: uuidv7(), photoSha256: await sha256(data) };
  await db.photos.put({ id: kept.photo, run, data });
  await count();
  return kept; // it goes behind the event that names it
}

/** The pictures of a run that the server would not take, each with the reason. */
export function useRefusedPhotos(run: string | undefined): { photos: { id: string; refused: string }[]; drop: (id: string) => void } {
  const { refused } = useSync();
  const [photos, setPhotos] = useState<{ id: string; refused: string }[]>([]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: looked up anew when the count of what was not taken changes
  useEffect(() => {
    if (!run) return;
    void db.photos
      .where('run')
      .equals(run)
      .toArray()
      .then((list) => setPhotos(list.flatMap((p) => (p.refused ? [{ id: p.id, refused: p.refused }] : []))));
  }, [run, refused]);
  const drop = (id: string) => void db.photos.delete(id).then(count);
  return { photos, drop };
}

// ---- sending ----

/** How far two clocks may be apart before one of them is not believed, ms. */
const clockSlack = 120_000;

// Every answer tells the server's time, so that a clock that is off is told at once and not when work is sent.
api.use({
  onResponse({ response }) {
    const at = Date.parse(response.headers.get('Date') ?? '');
    if (Number.isNaN(at)) return;
    const off = Date.now() - at;
    const clockOff = Math.abs(off) > clockSlack ? off : 0;
    if (clockOff !== 0 || sync.clockOff !== 0) setSync({ clockOff });
  },
});

let sending: Promise<boolean> | undefined;

/** Sends what is waiting, in order. One at a time; calls meanwhile wait for the same. */
export async function flush(): Promise<void> {
  sending ??= send().finally(() => {
    sending = undefined;
  });
  if (!(await sending)) return; // what cannot go now waits for the timer, and is not tried over and over
  const left = await db.waiting.filter((w) => !w.refused).count();
  if (left > 0 && sync.since === undefined && !sending) void flush();
}

/** Who is signed in here, as far as this device knows. */
function signedIn(): string | undefined {
  return (JSON.parse(localStorage.getItem('session') ?? '{}') as { person?: { id: string } }).person?.id;
}

/** Tries everything once; says whether some of it went. */
async function send(): Promise<boolean> {
  let went = false;
  const byRun = new Map<string, Waiting[]>();
  // What an older program kept unsigned is taken only from whom it names: it waits until they sign in here.
  const all = (await db.waiting.orderBy('n').toArray()).filter((w) => !w.refused && (w.proof || w.event.person.id === signedIn()));
  for (const w of all) byRun.set(w.run, [...(byRun.get(w.run) ?? []), w]);
  let left = all.length;
  try {
    for (const [run, whole] of byRun) {
      const list = whole.slice(0, 200);
      left -= list.length;
      await unlessRefused(async () => {
        const res = await must(
          api.POST('/runs/{id}/events', {
            params: { path: { id: run } },
            body: {
              clock: new Date().toISOString(),
              left,
              events: list.map((w) => ({ text: w.text ?? JSON.stringify(w.event), ...(w.proof ? { proof: w.proof } : {}) })),
            },
          }),
        );
        setSync({ since: undefined });
        await runStore(run).settle(list, res.acks);
        went = true;
      });
    }
    for (const p of await db.photos.toArray()) {
      if (p.refused) continue;
      const why = await unlessRefused(async () => {
        await must(
          api.PUT('/runs/{id}/photos/{photo}', {
            params: { path: { id: p.run, photo: p.id } },
            body: p.data as unknown as string,
            bodySerializer: (b) => b as unknown as Blob,
            headers: { 'Content-Type': 'application/octet-stream' },
          }),
        );
        await db.photos.delete(p.id);
        went = true;
      });
      // Only what is wrong with the picture itself is its fault. Whatever else the server says may pass: it waits, and nothing is dropped.
      if (why && notTaken.has(why.problem.status ?? 0)) await db.photos.update(p.id, { refused: why.message });
    }
  } catch {
    setSync({ since: sync.since ?? Date.now() });
  }
  await count();
  return went;
}

/** Answers that will be the same next time: no such run, too large, no picture, not the one its event names. */
const notTaken = new Set([404, 410, 413, 415, 422]);

/** Does one thing; what the server refuses of it holds up nothing else. Throws when there is no signal. */
async function unlessRefused(act: () => Promise<void>): Promise<Refused | undefined> {
  try {
    await act();
  } catch (e) {
    if (e instanceof Refused) return e;
    throw e;
  }
  return undefined;
}

/** Starts the sender: at once, when the network comes back, and on a timer, because the first call after "online" may still fail. */
export function startSending() {
  void count();
  void flush();
  addEventListener('online', () => void flush());
  setInterval(() => {
    if (sync.waiting > 0 || sync.since !== undefined) {
      if (sync.waiting > 0) void flush();
      else
        void api.GET('/session').then(
          () => setSync({ since: undefined }),
          () => undefined,
        );
    }
  }, 3_000);
}
