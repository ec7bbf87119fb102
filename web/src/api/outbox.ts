import { Refused, type RunEvent } from './client';
import type { Kept, Waiting } from './kept';

/** How an event names a picture: by its identifier, and by the digest of its bytes, so that no other can stand in for it. */
export interface KeptPhoto {
  photo: string;
  photoSha256: string;
}

/** What the sync mark tells. */
export interface SyncState {
  waiting: number;
  refused: number;
  since: number | undefined; // no signal since, ms
  clockOff: number; // by how many ms this device's clock is ahead, when that is more than a moment; else 0
  wants: string | undefined; // why the server takes nothing for now, in its own words
}

export interface Parcel {
  clock: string;
  left: number;
  events: { text: string; proof?: string }[];
}

export interface Ack {
  seq: number;
  refused: string;
}

/** What an outbox needs of the world. It is given, so that tests can give their own. */
export interface World {
  db: Kept;
  net: {
    events(run: string, parcel: Parcel): Promise<Ack[]>;
    photo(run: string, id: string, data: Blob, note?: string): Promise<void>; // of a run, or of a note of a walk
    reach(): Promise<unknown>; // asks whether the server is there
  };
  clock: {
    now(): number;
    after(ms: number, act: () => void): () => void; // gives what calls it off
  };
  prove(run: string, text: string): Promise<string | undefined>;
  signedIn(): string | undefined;
  alone(act: () => Promise<void>): Promise<void>; // one page of this device at a time: others wait their turn
  settled(run: string, sent: Waiting[], acks: Ack[]): Promise<void>; // tells the run what became of its events
}

/** The device could not keep what was recorded: nothing of it is anywhere. */
export class NotKept extends Error {
  constructor(cause: unknown) {
    const full =
      (cause as { name?: string; inner?: { name?: string } } | undefined)?.inner?.name ??
      (cause as { name?: string })?.name;
    super(
      full === 'QuotaExceededError'
        ? 'Not kept: this device has no room left. Free some, then record it again.'
        : 'Not kept: this device could not write it down. Record it again; if that does not help, go on at another device.',
    );
    this.cause = cause;
  }
}

/** Events in one parcel at most. */
export const parcelSize = 200;

/** The first and the longest wait before what could not go is tried again, ms. */
export const firstWait = 2_000;
export const longestWait = 60_000;

/** The longest that a parcel, and a picture, may be under way, ms: past it there is no signal. */
export const slowest = 60_000;
export const slowestPhoto = 300_000;

/** Answers that will be the same next time: no such run, too large, not to be read, no picture, not the one its event names. */
const forGood = new Set([400, 404, 410, 413, 415, 422]);

/**
 * What was recorded on this device and has not been acknowledged. It is written down here first; then it is sent, in order, until the
 * server has said of each event that it is kept, or why it is not.
 */
export class Outbox {
  private state: SyncState = { waiting: 0, refused: 0, since: undefined, clockOff: 0, wants: undefined };
  private readonly listeners = new Set<() => void>();
  private sending: Promise<boolean> | undefined;
  private failures = 0;
  private retries: Promise<unknown> | undefined; // of what was refused
  private keptSince = false; // something was kept, or may go again, since what waits was last read
  private callOff: (() => void) | undefined;

  constructor(private readonly world: World) {}

  subscribe = (l: () => void) => {
    this.listeners.add(l);
    return () => this.listeners.delete(l);
  };
  get = () => this.state;

  set(change: Partial<SyncState>) {
    this.state = { ...this.state, ...change };
    for (const l of this.listeners) l();
  }

  /** There was an answer from the server, or there was none. When it is back, what waits is sent at once. */
  signal(there: boolean) {
    if (there === (this.state.since === undefined)) return;
    this.set({ since: there ? undefined : this.world.clock.now() });
    if (there && this.state.waiting > 0 && !this.busy()) void this.wake();
  }

  /** Writes an event down on this device. Throws NotKept, and then it is nowhere. */
  async keep(run: string, event: RunEvent): Promise<Waiting> {
    const text = JSON.stringify(event);
    const w: Waiting = { id: event.id, run, event, text, proof: await this.world.prove(run, text) };
    try {
      w.n = await this.world.db.waiting.add(w);
    } catch (e) {
      throw new NotKept(e);
    }
    this.keptSince = true;
    this.set({ waiting: this.state.waiting + 1 }); // counted before it shows: "all kept" is never said of what is still here
    return w;
  }

  /** Writes a picture down on this device; it goes behind the event that names it. */
  async keepPhoto(id: string, run: string, data: Blob, note?: string) {
    try {
      await this.world.db.photos.put({ id, run, data, note });
    } catch (e) {
      throw new NotKept(e);
    }
    this.keptSince = true;
    await this.count();
  }

  async count() {
    const { db } = this.world;
    const [all, photos] = await Promise.all([db.waiting.toArray(), db.photos.toArray()]);
    const refused = all.filter((w) => w.refused).length;
    const notTaken = photos.filter((p) => p.refused).length;
    this.set({ waiting: all.length - refused + photos.length - notTaken, refused: refused + notTaken });
  }

  /** Sends what is waiting, in order. One at a time; calls meanwhile wait for the same. */
  async flush(): Promise<void> {
    this.callOff?.();
    this.sending ??= this.sendAll().finally(() => {
      this.sending = undefined;
    });
    const went = await this.sending;
    if (this.busy()) return; // somebody who waited too has begun anew
    const { waiting, since } = this.state;
    this.failures = went || (waiting === 0 && since === undefined) ? 0 : this.failures + 1;
    if ((went || this.keptSince) && waiting > 0 && since === undefined) await this.flush();
    else this.later();
  }

  private busy() {
    return this.sending !== undefined;
  }

  /** Asks the server for something; any answer, a refusal too, is a signal. */
  private async ask<T>(act: Promise<T>): Promise<T> {
    try {
      const answer = await act;
      this.signal(true);
      return answer;
    } catch (e) {
      this.signal(e instanceof Refused);
      throw e;
    }
  }

  /** Tries at once, however long the wait would be: the network is back, or somebody has signed in. */
  wake() {
    this.failures = 0;
    return this.flush();
  }

  /** Sends an event again that was refused: what was wrong may have been put right. */
  async retry(n: number) {
    const going = this.again(n);
    this.retries = Promise.allSettled([this.retries, going]);
    await going;
  }

  private async again(n: number) {
    await this.world.db.waiting.update(n, { refused: undefined });
    this.keptSince = true; // what is under way was read before
    await this.wake();
  }

  /** Puts a refused event aside: it is sent no more, and stays on this device to be looked at. */
  async putAside(n: number) {
    const { db } = this.world;
    await this.retries; // it may be on its way once more
    await this.sending;
    await db.transaction('rw', db.waiting, db.aside, async () => {
      const w = await db.waiting.get(n);
      if (!w?.refused) return;
      const { n: _, ...rest } = w;
      await db.aside.put({ ...rest, asideAt: new Date(this.world.clock.now()).toISOString() });
      await db.waiting.delete(n);
    });
    await this.count();
  }

  /** Waits longer after every try that brought nothing, up to a minute; a little differently on each device, so that they do not all come at once. */
  private later() {
    const { waiting, since } = this.state;
    if (waiting === 0 && since === undefined) return;
    const wait = Math.min(longestWait, firstWait * 2 ** Math.min(this.failures, 10)) * (0.8 + 0.4 * Math.random());
    this.callOff?.();
    this.callOff = this.world.clock.after(wait, () => {
      this.callOff = undefined;
      if (this.state.waiting > 0) void this.flush();
      else void this.reach();
    });
  }

  private async reach() {
    try {
      await this.ask(this.world.net.reach());
    } catch (e) {
      if (e instanceof Refused) return;
      this.failures++;
      this.later();
    }
  }

  /** Tries everything once; says whether some of it went. It never fails: whatever is in the way, what is left waits for the timer, and nothing is dropped. */
  private async sendAll(): Promise<boolean> {
    let went = false;
    this.keptSince = false;
    try {
      await this.world.alone(async () => {
        try {
          went = await this.sendEvents();
          went = (await this.sendPhotos()) || went;
        } catch {
          // No signal, or the device itself: others may have their turn.
        }
      });
      await this.count();
    } catch {
      // The device would not say what is left: that is found out at the next try.
    }
    return went;
  }

  private async sendEvents(): Promise<boolean> {
    let went = false;
    const { db, signedIn } = this.world;
    // What an older program kept unsigned is taken only from whom it names: it waits until they sign in here.
    const all = (await db.waiting.orderBy('n').toArray()).filter(
      (w) => !w.refused && (w.proof || w.event.person.id === signedIn()),
    );
    const byRun = new Map<string, Waiting[]>();
    for (const w of all) byRun.set(w.run, [...(byRun.get(w.run) ?? []), w]);
    let left = all.length;
    let wants: string | undefined;
    for (const [run, whole] of byRun) {
      const list = whole.slice(0, parcelSize);
      left -= list.length;
      try {
        await this.sendParcel(run, list, left);
        went = true;
      } catch (e) {
        if (!(e instanceof Refused)) throw e; // no signal
        wants ??= e.problem.status === 401 ? 'Sign in, then it is sent.' : e.message; // other runs may still be taken
      }
    }
    this.set({ wants });
    return went;
  }

  /**
   * Sends some events of a run. When the server will not take the parcel and never will, the event that is the reason is found by halves and
   * marked; what stands before and behind it goes its way.
   */
  private async sendParcel(run: string, list: Waiting[], left: number): Promise<void> {
    try {
      const parcel = {
        clock: new Date(this.world.clock.now()).toISOString(),
        left,
        events: list.map((w) => ({ text: w.text ?? JSON.stringify(w.event), ...(w.proof ? { proof: w.proof } : {}) })),
      };
      await this.world.settled(run, list, await this.ask(this.world.net.events(run, parcel)));
    } catch (e) {
      if (!(e instanceof Refused) || !forGood.has(e.problem.status ?? 0)) throw e;
      if (list.length === 1 || e.problem.status === 404) {
        await this.world.settled(
          run,
          list,
          list.map(() => ({ seq: 0, refused: e.message })),
        );
        return;
      }
      const half = Math.ceil(list.length / 2);
      await this.sendParcel(run, list.slice(0, half), left + list.length - half);
      await this.sendParcel(run, list.slice(half), left);
    }
  }

  private async sendPhotos(): Promise<boolean> {
    let went = false;
    const { db, net } = this.world;
    for (const p of await db.photos.toArray()) {
      if (p.refused) continue;
      try {
        await this.ask(net.photo(p.run, p.id, p.data, p.note));
        await db.photos.delete(p.id);
        went = true;
      } catch (e) {
        if (!(e instanceof Refused)) throw e;
        // Only what is wrong with the picture itself is its fault. Whatever else the server says may pass: it waits, and nothing is dropped.
        if (forGood.has(e.problem.status ?? 0)) await db.photos.update(p.id, { refused: e.message });
      }
    }
    return went;
  }
}
