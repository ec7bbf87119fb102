import Dexie, { type EntityTable } from 'dexie';
import type { RunEvent, RunView } from './client';

/** An event recorded on this device that the server has not acknowledged yet. */
export interface Waiting {
  n?: number;
  id: string;
  run: string;
  event: RunEvent;
  text?: string; // of the event, exactly as it is signed and sent; missing: recorded by an older program
  proof?: string | undefined; // this device's signature over it
  refused?: string;
}

interface KeptRun {
  id: string;
  tag: string;
  view: RunView;
}

interface WaitingPhoto {
  id: string;
  run: string;
  data: Blob;
  refused?: string; // why the server would not take it
}

/** The device's own memory: what was recorded is here before anything is sent, and survives closing the browser. */
export const db = new Dexie('dynacor') as Dexie & {
  waiting: EntityTable<Waiting, 'n'>;
  runs: EntityTable<KeptRun, 'id'>;
  photos: EntityTable<WaitingPhoto, 'id'>;
  keys: EntityTable<{ id: string; pair: CryptoKeyPair }, 'id'>;
};
db.version(1).stores({ waiting: '++n, id, run', runs: 'id, tag', photos: 'id, run' });
db.version(2).stores({ keys: 'id' });
