import { v7 as uuidv7 } from 'uuid';
import { type AskedAgain, asksAgain, fold, judge, loadCore, maySign, refusal } from '../core/core';
import {
  api,
  type Entry,
  must,
  type Person,
  Refused,
  type RunEvent,
  type RunState,
  type RunView,
  type Signable,
} from './client';
import { type Aside, db, type Waiting } from './kept';
import { type Ack, type Outbox, slowest } from './outbox';

export interface LocalRun {
  view: RunView | undefined;
  state: RunState | undefined;
  waiting: Waiting[];
  problem: string | undefined; // why it could not be opened
  notKept: string | undefined; // what was recorded last is nowhere: why
  aside: Aside[]; // refused by the server, and put aside
}

export const noRun: LocalRun = {
  view: undefined,
  state: undefined,
  waiting: [],
  problem: undefined,
  notKept: undefined,
  aside: [],
};

/** A view with entries that it does not have yet. */
function withEntries(view: RunView | undefined, entries: Entry[]): RunView | undefined {
  if (!view) return undefined;
  const known = new Set(view.entries.map((e) => e.event.id));
  return { ...view, entries: [...view.entries, ...entries.filter((e) => !known.has(e.event.id))] };
}

/** A run as this device knows it: the server's chain, and what is still waiting here. */
export class RunStore {
  private value: LocalRun = noRun;
  private readonly listeners = new Set<() => void>();
  private added = 0; // events recorded here by this page

  constructor(
    readonly id: string,
    private readonly outbox: Outbox,
  ) {}

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
    return judge(this.id, view.plan, this.events(), event, Date.now());
  }

  /** What one more event would ask for again. */
  asksAgain(event: RunEvent): AskedAgain | undefined {
    const { view } = this.value;
    return view && asksAgain(this.id, view.plan, this.events(), event, Date.now());
  }

  /** Those of several people who may give a signature now; all of them while the rules are still being loaded: the server decides again. */
  maySign(people: Person[], want: Signable): Person[] {
    const { view } = this.value;
    const may = view && maySign(this.id, view.plan, this.events(), people, Date.now());
    if (!may) return people;
    return people.filter((_, i) =>
      may[i]?.some(
        (g) =>
          g.purpose === want.purpose && (g.check ?? '') === (want.check ?? '') && (g.ref ?? '') === (want.ref ?? ''),
      ),
    );
  }

  async open() {
    void loadCore().then(
      () => this.set({}),
      () => undefined,
    );
    const kept = await db.runs.get(this.id);
    await this.setWithHere(({ view }) => (kept && !view ? { view: kept.view } : {}));
    await this.refresh();
  }

  /** What of the run is on this device alone. */
  private async here(): Promise<Pick<LocalRun, 'waiting' | 'aside'>> {
    const [waiting, aside] = await Promise.all([
      db.waiting.where('run').equals(this.id).sortBy('n'),
      db.aside.where('run').equals(this.id).sortBy('asideAt'),
    ]);
    return { waiting, aside };
  }

  /**
   * Sets what is on this device alone, and with it what follows from the state at that moment: the device takes its time, and meanwhile more may
   * have been recorded here or heard from elsewhere.
   */
  private async setWithHere(change: (now: LocalRun) => Partial<LocalRun> = () => ({})) {
    for (;;) {
      const { added } = this;
      const here = await this.here();
      if (added !== this.added) continue;
      this.set({ ...here, ...change(this.value) });
      return;
    }
  }

  /** Looks whether another page of this device has sent what waits here. */
  async lookAgain() {
    const before = this.value.waiting.length;
    await this.setWithHere();
    if (this.value.waiting.length !== before) await this.refresh();
  }

  /** Asks the server; without an answer what is kept here stays. */
  async refresh() {
    try {
      const view = await must(
        api.GET('/runs/{id}', { params: { path: { id: this.id } }, signal: AbortSignal.timeout(slowest) }),
      );
      this.outbox.signal(true);
      await this.put(view);
    } catch (e) {
      if (e instanceof Refused) this.set({ problem: this.value.view ? undefined : e.message });
      else {
        this.outbox.signal(false);
        if (!this.value.view) this.set({ problem: (e as Error).message });
      }
    }
  }

  async put(view: RunView) {
    // A chain only grows: a shorter one was read before what has been acknowledged since.
    await this.setWithHere((now) =>
      view.entries.length < (now.view?.entries.length ?? 0) ? {} : { view, problem: undefined },
    );
    await this.store(this.value.view);
  }

  private async store(view: RunView | undefined) {
    if (view) await db.runs.put({ id: this.id, tag: view.joint.tag, view });
  }

  /** Keeps an event: on the device first, then it is sent. It counts as soon as the device has it; throws NotKept when it has not, and a plain Error with the remedy when the rules would refuse it. */
  async add(person: Person, event: Partial<RunEvent> & Pick<RunEvent, 'kind'>): Promise<RunEvent> {
    const full = this.complete(person, event);
    const plan = this.value.view?.plan;
    const why = plan ? refusal(this.id, plan, this.events(), full) : '';
    if (why) throw new Error(why);
    let w: Waiting;
    try {
      w = await this.outbox.keep(this.id, full);
    } catch (e) {
      this.set({ notKept: (e as Error).message });
      throw e;
    }
    this.added++;
    this.set({ waiting: [...this.value.waiting, w], notKept: undefined });
    void this.outbox.flush();
    if (!globalThis.dynacorCore) {
      // Without the rules the next question would be the old one. When they cannot be had, settle asks the server.
      await loadCore().then(
        () => this.set({}),
        () => undefined,
      );
    }
    return full;
  }

  /** An event with identifier, time and person. */
  complete(person: Person, event: Partial<RunEvent> & Pick<RunEvent, 'kind'>): RunEvent {
    return { ...event, id: uuidv7(), at: new Date().toISOString(), person } as RunEvent;
  }

  /** Takes in what the server said of events sent, in their order. */
  async settle(sent: Waiting[], acks: Ack[]) {
    const entries: Entry[] = [];
    const done: Waiting[] = [];
    const refused: [n: number, why: string][] = [];
    for (const [i, w] of sent.entries()) {
      const a = acks[i];
      if (!a || !w.n) continue;
      if (a.refused) refused.push([w.n, a.refused]);
      else {
        entries.push({ seq: a.seq, receivedAt: new Date().toISOString(), prevHash: '', hash: '', event: w.event });
        done.push(w);
      }
    }
    // First as acknowledged, then no longer as waiting: whenever the page is closed, it is the one or the other.
    await this.store(withEntries(this.value.view ?? (await db.runs.get(this.id))?.view, entries));
    for (const [n, why] of refused) await db.waiting.update(n, { refused: why });
    for (const { n } of done) if (n) await db.waiting.delete(n);
    await this.setWithHere(({ view }) => ({ view: withEntries(view, entries) }));
    // Another device may have added events between: the server's order is the one that counts.
    if (!globalThis.dynacorCore || this.value.view?.entries.some((e, i) => e.seq !== i + 1)) await this.refresh();
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
    if (fresh.some((e) => e.event.kind === 'tool_doubted')) await this.refresh(); // the crib has changed
  }

  /** The hash of the last entry, to which a signature is bound; asked for when it is not known here. */
  async head(): Promise<string> {
    if (!this.value.view?.entries.at(-1)?.hash) await this.refresh();
    return this.value.view?.entries.at(-1)?.hash ?? '';
  }

  /** Sends a refused event again. */
  async retry(w: Waiting) {
    if (!w.n) return;
    const going = this.outbox.retry(w.n);
    this.set({ waiting: this.value.waiting.map((x) => (x.id === w.id ? { ...x, refused: undefined } : x)) }); // on its way
    await going;
    await this.setWithHere();
  }

  /** Puts a refused event aside: it stays on this device, to be looked at. */
  async putAside(w: Waiting) {
    if (w.n) await this.outbox.putAside(w.n);
    await this.setWithHere();
  }

  /** Throws away an event that was put aside, after a person has looked at it. */
  async discard(id: string) {
    await db.aside.delete(id);
    await this.setWithHere();
  }
}
