import Dexie, { type DexieOptions, type EntityTable } from 'dexie';
import type { RunEvent, RunView, WalkAlong, WalkLook } from './client';
import type { KeptPhoto } from './outbox';

/** An event recorded on this device that the server has not acknowledged yet. */
export interface Waiting {
  n?: number;
  id: string;
  run: string;
  event: RunEvent;
  text?: string; // of the event, exactly as it is signed and sent; missing: recorded by an older program
  proof?: string | undefined; // this device's signature over it
  refused?: string | undefined;
}

/** An event that the server refused and that is sent no more. */
export interface Aside extends Omit<Waiting, 'n'> {
  asideAt: string;
}

interface KeptRun {
  id: string;
  tag: string;
  view: RunView;
}

interface WaitingPhoto {
  id: string;
  run: string; // '' of a note
  note?: string | undefined; // of a walk
  data: Blob;
  refused?: string; // why the server would not take it
}

/** What was taken along on a walk. */
export interface Along {
  id: 'walk';
  view: WalkAlong;
}

/** A picture as it is taken: named as it is signed, and its bytes. */
export interface TakenPhoto extends KeptPhoto {
  data: Blob;
}

/** What somebody saw at a joint, or noted of something else: not signed yet, and to be signed by nobody but whoever saw it. */
export interface KeptLook extends WalkLook {
  run: string; // of the record; '' of a note
  by: string; // person, by identifier
  name: string; // of the person
  says: string; // what the answers say, in the words of the record; the note itself
  picture?: TakenPhoto | undefined;
  refused?: string | undefined;
  field?: string | undefined;
}

export type Kept = Dexie & {
  along: EntityTable<Along, 'id'>;
  looks: EntityTable<KeptLook, 'id'>;
  waiting: EntityTable<Waiting, 'n'>;
  runs: EntityTable<KeptRun, 'id'>;
  photos: EntityTable<WaitingPhoto, 'id'>;
  keys: EntityTable<{ id: string; pair: CryptoKeyPair }, 'id'>;
  aside: EntityTable<Aside, 'id'>;
};

/** Opens a device's own memory. */
export function openKept(name: string, options?: DexieOptions): Kept {
  const db = new Dexie(name, options) as Kept;
  db.version(1).stores({ waiting: '++n, id, run', runs: 'id, tag', photos: 'id, run' });
  db.version(2).stores({ keys: 'id' });
  db.version(3).stores({ aside: 'id, run' });
  // What a run looks like is fetched again when it was kept by a page that knew plans in another form; what waits to be sent stays.
  db.version(4)
    .stores({})
    .upgrade((tx) =>
      tx
        .table<{ view: RunView }>('runs')
        .filter((r) => !('rows' in r.view.plan))
        .delete(),
    );
  db.version(5)
    .stores({ along: 'id', looks: 'id' })
    .upgrade((tx) =>
      tx
        .table<{ view: RunView }>('runs')
        .filter((r) => !r.view.plan.specification?.groups)
        .delete(),
    );
  db.version(6)
    .stores({})
    .upgrade((tx) =>
      tx
        .table<{ view: RunView }>('runs')
        .filter((r) => !Array.isArray(r.view.plan.choices?.groups))
        .delete(),
    );
  return db;
}

/** This device's own memory: what was recorded is here before anything is sent, and survives closing the browser. */
export const db = openKept('dynacor');
