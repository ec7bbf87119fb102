import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';
import { useEffect, useState, useSyncExternalStore } from 'react';
import { v7 as uuidv7 } from 'uuid';
import { api, must } from './client';
import { proveEvent } from './deviceKey';
import { db } from './kept';
import { type KeptPhoto, Outbox, slowest, slowestPhoto } from './outbox';
import { RunStore } from './runStore';

/** How far two clocks may be apart before one of them is not believed, ms. */
const clockSlack = 120_000;

const stores = new Map<string, RunStore>();

/** The outbox of this device. */
export const outbox = new Outbox({
  db,
  net: {
    events: async (run, body) =>
      (
        await must(
          api.POST('/runs/{id}/events', { params: { path: { id: run } }, body, signal: AbortSignal.timeout(slowest) }),
        )
      ).acks,
    photo: async (run, photo, data, note) => {
      const sent = {
        body: data as unknown as string,
        bodySerializer: (b: unknown) => b as Blob,
        headers: { 'Content-Type': 'application/octet-stream' },
        signal: AbortSignal.timeout(slowestPhoto),
      };
      await must(
        note
          ? api.PUT('/plant-notes/{id}/photo', { params: { path: { id: note } }, ...sent })
          : api.PUT('/runs/{id}/photos/{photo}', { params: { path: { id: run, photo } }, ...sent }),
      );
    },
    reach: () => must(api.GET('/session')),
  },
  clock: {
    now: () => Date.now(),
    after: (ms, act) => {
      const t = setTimeout(act, ms);
      return () => clearTimeout(t);
    },
  },
  prove: proveEvent,
  signedIn: () => (JSON.parse(localStorage.getItem('session') ?? '{}') as { person?: { id: string } }).person?.id,
  alone: async (act) => {
    // Without TLS there are no locks: two pages may send the same, and the server takes it once.
    if (!navigator.locks) return act();
    await navigator.locks.request('dynacor-outbox', act);
    for (const s of stores.values()) await s.lookAgain();
  },
  settled: (run, sent, acks) => runStore(run).settle(sent, acks),
});

export function runStore(id: string): RunStore {
  let s = stores.get(id);
  if (!s) {
    s = new RunStore(id, outbox);
    stores.set(id, s);
  }
  return s;
}

/** What the sync mark tells, kept fresh. */
export const useSync = () => useSyncExternalStore(outbox.subscribe, outbox.get);

/** The run of a joint as kept on this device, for opening without network. */
export async function keptRun(tag: string): Promise<string | undefined> {
  const list = await db.runs.where('tag').equals(tag).toArray();
  return list.sort((a, b) => (a.id < b.id ? 1 : -1))[0]?.id;
}

/** Names a picture by an identifier and by the digest of its bytes. */
export const named = async (data: Blob): Promise<KeptPhoto> => ({
  photo: uuidv7(),
  photoSha256: bytesToHex(sha256(new Uint8Array(await data.arrayBuffer()))),
});

/** Keeps a picture on the device and sends it when there is signal. */
export async function keepPhoto(run: string, data: Blob): Promise<KeptPhoto> {
  const kept = await named(data);
  await outbox.keepPhoto(kept.photo, run, data);
  return kept;
}

/** The pictures of a run that the server would not take, each with the reason. */
export function useRefusedPhotos(run: string | undefined): {
  photos: { id: string; refused: string }[];
  drop: (id: string) => void;
} {
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
  const drop = (id: string) => void db.photos.delete(id).then(() => outbox.count());
  return { photos, drop };
}

// Every answer tells the server's time, so that a clock that is off is told at once and not when work is sent.
api.use({
  onResponse({ response }) {
    const at = Date.parse(response.headers.get('Date') ?? '');
    if (Number.isNaN(at)) return;
    const off = Date.now() - at;
    const clockOff = Math.abs(off) > clockSlack ? off : 0;
    if (clockOff !== 0 || outbox.get().clockOff !== 0) outbox.set({ clockOff });
  },
});

/** Starts the sender: at once, and when the network comes back. */
export function startSending() {
  void outbox.count();
  void outbox.flush();
  addEventListener('online', () => void outbox.wake());
}
