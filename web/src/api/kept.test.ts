import 'fake-indexeddb/auto';
import Dexie from 'dexie';
import { expect, test } from 'vitest';
import { openKept } from './kept';

test('a run kept in the form of an older page is fetched anew, and what waits to be sent stays', async () => {
  const old = new Dexie('older');
  old.version(1).stores({ waiting: '++n, id, run', runs: 'id, tag', photos: 'id, run' });
  old.version(2).stores({ keys: 'id' });
  old.version(3).stores({ aside: 'id, run' });
  await old.open();
  await old.table('runs').bulkAdd([
    { id: 'old', tag: 'A', view: { plan: { groups: [], others: [] } } },
    { id: 'flat', tag: 'C', view: { plan: { groups: [], rows: [], specification: { bolts: 8 } } } },
    { id: 'picked', tag: 'D', view: { plan: { rows: [], specification: { groups: [] }, choices: { groups: 4 } } } },
    { id: 'new', tag: 'B', view: { plan: { rows: [], specification: { groups: [] }, choices: { groups: [] } } } },
  ]);
  await old.table('waiting').add({ id: 'e1', run: 'old', event: { id: 'e1' } });
  old.close();
  const db = openKept('older');
  expect((await db.runs.toArray()).map((r) => r.id)).toEqual(['new']);
  expect(await db.waiting.count()).toBe(1);
  db.close();
});
