import { liveQuery } from 'dexie';
import { useSyncExternalStore } from 'react';
import { v7 as uuidv7 } from 'uuid';
import {
  api,
  must,
  NoSignal,
  type Person,
  Refused,
  type WalkAlong,
  type WalkAnswer,
  type WalkJoint,
  type WalkLook,
  type WalkLookResult,
  type WalkRound,
} from './client';
import { outbox } from './device';
import { db, type Kept, type KeptLook, type TakenPhoto } from './kept';
import { NotKept } from './outbox';

/** What a walk needs of the world. It is given, so that tests can give their own. */
export interface WalkWorld {
  db: Kept;
  net: {
    along(): Promise<WalkAlong>;
    round(): Promise<WalkRound>;
    joint(tag: string): Promise<WalkJoint>;
    sign(body: { looks: WalkLook[]; clock: string; pin: string }): Promise<WalkLookResult[]>;
  };
  now(): number;
  signal(there: boolean): void;
  picture(look: KeptLook, picture: TakenPhoto): Promise<void>; // sends the picture of a look that is signed
}

/** What somebody says of what they saw. */
export interface Said {
  answers: WalkAnswer[];
  says: string;
  note?: string;
  picture?: TakenPhoto | undefined;
}

/** The joint is not among those that this device took along. */
export class NotAlong extends Error {
  constructor(
    readonly tag: string,
    readonly tags: string[],
    asOf: string,
  ) {
    super(`${tag} was not taken along at ${new Date(asOf).toTimeString().slice(0, 5)}.`);
  }
}

/** How old what is taken along may get while there is signal, ms. */
const oldAfter = 30 * 60_000;

/** How many looks are signed in one request: each is judged and sealed by itself. */
const atOnce = 40;

/** Of a look, what is sent. */
const sent = ({
  run: _run,
  by: _by,
  name: _name,
  says: _says,
  picture: _picture,
  refused: _refused,
  field: _field,
  ...look
}: KeptLook): WalkLook => look;

/** A walk-round on this device: with signal as the server tells it, without from what was taken along; looks are kept here until they are signed. */
export class Looks {
  constructor(private readonly world: WalkWorld) {}

  private async ask<T>(act: Promise<T>): Promise<T> {
    try {
      const answer = await act;
      this.world.signal(true);
      return answer;
    } catch (e) {
      this.world.signal(e instanceof Refused);
      throw e;
    }
  }

  /** What the server says, and without signal what was taken along has to say; then asOf is when that was. */
  private async orAlong<T>(
    act: Promise<T>,
    kept: (view: WalkAlong) => T,
  ): Promise<{ got: T; asOf: string | undefined }> {
    try {
      return { got: await this.ask(act), asOf: undefined };
    } catch (e) {
      const along = e instanceof NoSignal ? await this.world.db.along.get('walk') : undefined;
      if (!along) throw e;
      return { got: kept(along.view), asOf: along.view.round.now };
    }
  }

  async round() {
    const { got, asOf } = await this.orAlong(this.world.net.round(), (v) => v.round);
    return { round: got, asOf };
  }

  async joint(tag: string) {
    const { got, asOf } = await this.orAlong(this.world.net.joint(tag), (v) => {
      const j = v.joints.find((x) => x.tag === tag);
      if (!j)
        throw new NotAlong(
          tag,
          v.joints.map((x) => x.tag),
          v.round.now,
        );
      return j;
    });
    return { joint: got, asOf };
  }

  async takeAlong(): Promise<WalkAlong> {
    const view = await this.ask(this.world.net.along());
    await this.world.db.along.put({ id: 'walk', view });
    return view;
  }

  /** The joints that were taken along. */
  async taken(): Promise<WalkJoint[]> {
    return (await this.world.db.along.get('walk'))?.view.joints ?? [];
  }

  /** Takes along what there is, when what is here is old. Without signal what is here stays. */
  async takeAlongWhenOld(): Promise<void> {
    try {
      const kept = await this.world.db.along.get('walk');
      if (!kept || this.world.now() - Date.parse(kept.view.round.now) > oldAfter) await this.takeAlong();
    } catch {
      // it is tried again when the walk is opened
    }
  }

  /** A look of somebody, now. One that is corrected keeps its time and its place. */
  look(who: Person, at: Pick<KeptLook, 'tag' | 'record' | 'run' | 'after'>, said: Said, before?: KeptLook): KeptLook {
    const now = { id: uuidv7(), ...at, at: new Date(this.world.now()).toISOString(), by: who.id, name: who.name };
    const { photo, photoSha256 } = said.picture ?? {};
    return {
      ...(before ?? now),
      ...said,
      picture: said.picture,
      photo: photo ?? '',
      photoSha256: photoSha256 ?? '',
      refused: undefined,
      field: undefined,
    };
  }

  /** Keeps a look on this device, unsigned. Throws NotKept, and then it is nowhere. */
  async keep(look: KeptLook): Promise<void> {
    try {
      await this.world.db.looks.put(look);
    } catch (e) {
      throw new NotKept(e);
    }
  }

  /** Looks of somebody, in their order. */
  async of(person: string): Promise<KeptLook[]> {
    return (await this.all()).filter((l) => l.by === person);
  }

  async all(): Promise<KeptLook[]> {
    return (await this.world.db.looks.toArray()).sort((a, b) => a.at.localeCompare(b.at));
  }

  /** Signs looks by one PIN, some at a time. What is kept by the server leaves this device; what is refused stays, and says why. */
  async sign(list: KeptLook[], pin: string): Promise<WalkLookResult[]> {
    const all: WalkLookResult[] = [];
    for (let i = 0; i < list.length; i += atOnce) {
      const some = list.slice(i, i + atOnce);
      const clock = new Date(this.world.now()).toISOString();
      const results = await this.ask(this.world.net.sign({ looks: some.map(sent), clock, pin }));
      for (const r of results) {
        await this.settle(
          r,
          some.find((l) => l.id === r.id),
        );
      }
      all.push(...results);
    }
    return all;
  }

  private async settle(r: WalkLookResult, look: KeptLook | undefined): Promise<void> {
    if (r.refused) {
      await this.world.db.looks.update(r.id, { refused: r.refused, field: r.field });
      return;
    }
    if (look?.picture) await this.world.picture(look, look.picture); // before the look goes: it is the one or the other
    await this.world.db.looks.delete(r.id);
  }

  /** Somebody has seen what was added behind the record meanwhile. */
  async seen(id: string, additions: number): Promise<void> {
    await this.world.db.looks.update(id, { after: additions, refused: undefined, field: undefined });
  }

  async takeOut(id: string): Promise<void> {
    await this.world.db.looks.delete(id);
  }
}

/** The nearest to see after a joint that nobody has looked at yet: as the joints taken along name each other. '' when there is none. */
export function nextToSee(joints: WalkJoint[], tag: string, looked: ReadonlySet<string>): string {
  const after = new Map(joints.map((j) => [j.tag, j.next]));
  const met = new Set([tag]);
  for (let next = after.get(tag) ?? ''; next && !met.has(next); next = after.get(next) ?? '') {
    if (!looked.has(next)) return next;
    met.add(next);
  }
  return '';
}

// A signal that takes longer is none to somebody who stands before a joint.
const slowest = () => AbortSignal.timeout(8_000);

/** The walk-round of this device. */
export const looks = new Looks({
  db,
  net: {
    along: () => must(api.GET('/walk-along')),
    round: () => must(api.GET('/walk', { signal: slowest() })),
    joint: (tag) => must(api.GET('/walk/{tag}', { params: { path: { tag } }, signal: slowest() })),
    sign: (body) => must(api.POST('/walk', { body })),
  },
  now: () => Date.now(),
  signal: (there) => outbox.signal(there),
  picture: async (look, { photo, data }) => {
    await outbox.keepPhoto(photo, look.run, data, look.note ? look.id : undefined);
    void outbox.flush();
  },
});

let known: KeptLook[] = [];
const listeners = new Set<() => void>();
let watching = false;
const subscribe = (l: () => void) => {
  listeners.add(l);
  if (!watching) {
    watching = true; // for good: every page of the device tells every other
    liveQuery(() => looks.all()).subscribe({
      next: (list) => {
        known = list;
        for (const tell of listeners) tell();
      },
      error: () => undefined, // a device that keeps nothing has no looks
    });
  }
  return () => listeners.delete(l);
};

/** The looks on this device that are not signed, kept fresh. */
export const useLooks = (): KeptLook[] => useSyncExternalStore(subscribe, () => known);
