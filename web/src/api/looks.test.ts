import 'fake-indexeddb/auto';
import { beforeEach, expect, test, vi } from 'vitest';
import { NoSignal, Refused, type WalkAlong, type WalkJoint } from './client';
import { type Kept, openKept } from './kept';
import { Looks, nextToSee, type WalkWorld } from './looks';

const joint = (tag: string, next: string, part: Partial<WalkJoint> = {}) =>
  ({ tag, next, record: `R-${tag}`, run: `run-${tag}`, additions: 0, drawn: [], ...part }) as unknown as WalkJoint;
const along: WalkAlong = {
  round: { now: '2026-03-04T06:10:00Z', seen: 0, stops: [{ tag: 'A' }, { tag: 'B' }, { tag: 'C' }] },
  joints: [joint('A', 'B'), joint('B', 'C'), joint('C', 'A'), joint('Z', 'B')],
} as unknown as WalkAlong;
const answers = [{ code: 'dry', yes: true, note: '' }];

let n = 0;
let db: Kept;
let there: boolean;
let asked: unknown[];
let answer: (looks: { id: string; tag: string }[]) => unknown;
let looks: Looks;
let signals: boolean[];
let pictures: unknown[];

beforeEach(async () => {
  db = openKept(`looks-${n++}`);
  there = true;
  asked = [];
  signals = [];
  pictures = [];
  answer = (all) => all.map((l) => ({ id: l.id, tag: l.tag, refused: '', field: '' }));
  const or = async <T>(v: () => T): Promise<T> => {
    if (!there) throw new NoSignal();
    return v();
  };
  const world: WalkWorld = {
    db,
    net: {
      along: () => or(() => along),
      round: () => or(() => ({ ...along.round, seen: 9 })),
      joint: (tag) =>
        or(() => {
          if (tag === 'Q') throw new Refused({ title: 'There is no joint Q.', status: 404 });
          return joint(tag, 'B', { additions: 4 });
        }),
      sign: (body) =>
        or(() => {
          asked.push(body);
          return answer(body.looks) as never;
        }),
    },
    now: () => Date.parse('2026-03-04T08:00:00Z'),
    signal: (s) => signals.push(s),
    picture: async (l, p) => void pictures.push([l.run, l.note, p.photo, await db.looks.count()]),
  };
  looks = new Looks(world);
});

const me = { id: 'p1', name: 'R. Abara', role: 'inspector' };
const keep = async (tag: string) => {
  const { record, run, additions: after } = joint(tag, '');
  const look = { ...looks.look(me, { tag, record, run, after }, { answers, says: 'Walk-round: dry.' }), id: tag };
  await looks.keep(look);
  return look;
};

test('a walk goes on from what was taken along when there is no signal', async () => {
  there = false;
  await expect(looks.round()).rejects.toThrow('No signal');
  await expect(looks.joint('A')).rejects.toThrow('No signal');
  there = true;
  await looks.takeAlong();
  expect((await looks.round()).round.seen).toBe(9);
  expect(await looks.joint('Z')).toMatchObject({ joint: { additions: 4 }, asOf: undefined });
  there = false;
  expect(await looks.round()).toEqual({ round: along.round, asOf: '2026-03-04T06:10:00Z' });
  expect(await looks.joint('Z')).toMatchObject({ joint: { tag: 'Z', additions: 0 }, asOf: '2026-03-04T06:10:00Z' });
  await expect(looks.joint('Y')).rejects.toThrow('Y was not taken along');
  expect(signals.slice(-2)).toEqual([false, false]);
});

test('what the server refuses is not answered from what was taken along', async () => {
  await looks.takeAlong();
  await expect(looks.joint('Q')).rejects.toThrow('There is no joint Q');
  expect(signals.at(-1)).toBe(true);
});

test('a walk is taken along again only when what is here is old', async () => {
  await looks.takeAlongWhenOld();
  expect(await db.along.count()).toBe(1);
  there = false;
  await looks.takeAlongWhenOld(); // no signal is no fault
  await db.along.put({ id: 'walk', view: { ...along, round: { ...along.round, now: '2026-03-04T07:31:00Z' } } });
  there = true;
  await looks.takeAlongWhenOld();
  expect((await db.along.get('walk'))?.view.round.now).toBe('2026-03-04T07:31:00Z');
  await db.along.put({ id: 'walk', view: { ...along, round: { ...along.round, now: '2026-03-04T07:29:00Z' } } });
  await looks.takeAlongWhenOld();
  expect((await db.along.get('walk'))?.view.round.now).toBe('2026-03-04T06:10:00Z');
});

test('looks are signed by one PIN; what is refused stays, with its reason', async () => {
  await keep('A');
  await keep('B');
  answer = (all) =>
    all.map((l) => ({
      id: l.id,
      tag: l.tag,
      ...(l.tag === 'B' ? { refused: '1 more.', field: 'after' } : { refused: '', field: '' }),
    }));
  await looks.sign(await looks.of('p1'), '9340');
  expect(asked).toMatchObject([
    {
      pin: '9340',
      clock: '2026-03-04T08:00:00.000Z',
      looks: [{ tag: 'A', record: 'R-A', at: '2026-03-04T08:00:00.000Z' }, {}],
    },
  ]);
  expect(asked[0]).not.toHaveProperty('looks.0.says');
  expect(await db.looks.toArray()).toMatchObject([{ tag: 'B', refused: '1 more.', field: 'after' }]);
  await looks.seen('B', 3);
  expect(await db.looks.get('B')).toMatchObject({ after: 3 });
  expect((await db.looks.get('B'))?.refused).toBeUndefined();
  there = false;
  await expect(looks.sign(await looks.of('p1'), '9340')).rejects.toThrow('No signal');
  expect(await db.looks.count()).toBe(1);
  await looks.takeOut('B');
  expect(await db.looks.count()).toBe(0);
});

test('a look that is corrected keeps its time and its place', async () => {
  const before = { ...(await keep('A')), at: '2026-03-04T07:00:00Z', after: 2, refused: 'x', field: 'answers.dry' };
  await looks.keep(
    looks.look(me, { tag: 'A', record: 'R-A', run: '', after: 5 }, { answers: [], says: 'other' }, before),
  );
  expect(await db.looks.toArray()).toMatchObject([
    { id: 'A', at: '2026-03-04T07:00:00Z', after: 2, says: 'other', answers: [], refused: undefined },
  ]);
});

test('nobody signs for another', async () => {
  await keep('A');
  expect(await looks.of('p2')).toEqual([]);
  expect(await looks.of('p1')).toHaveLength(1);
});

test('a device without room says that nothing was kept', async () => {
  vi.spyOn(db.looks, 'put').mockRejectedValue(Object.assign(new Error(), { name: 'QuotaExceededError' }));
  await expect(keep('A')).rejects.toThrow('no room left');
});

test('the nearest to see leaves out what was looked at', () => {
  const seen = (...tags: string[]) => new Set(tags);
  expect(nextToSee(along.joints, 'A', seen())).toBe('B');
  expect(nextToSee(along.joints, 'A', seen('A', 'B'))).toBe('C');
  expect(nextToSee(along.joints, 'Z', seen('B', 'C'))).toBe('A');
  expect(nextToSee(along.joints, 'A', seen('A', 'B', 'C'))).toBe('');
  expect(nextToSee(along.joints, 'C', seen('C'))).toBe('A');
  expect(nextToSee([joint('A', 'B')], 'A', seen('B'))).toBe('');
});

test('the picture of a look goes once the look is signed, and is its own', async () => {
  const picture = { photo: 'P', photoSha256: 'S', data: new Blob(['x']) };
  const note = { tag: 'Q', record: '', run: '', after: 0 };
  const look = looks.look(me, note, { answers: [], says: 'a spill', note: 'a spill', picture });
  expect(look).toMatchObject({ photo: 'P', photoSha256: 'S' });
  await looks.keep(look);
  answer = (all) => all.map((l) => ({ id: l.id, tag: l.tag, refused: 'no', field: '' }));
  await looks.sign(await looks.of('p1'), '1');
  expect(pictures).toEqual([]);
  answer = (all) => all.map((l) => ({ id: l.id, tag: l.tag, refused: '', field: '' }));
  await looks.sign(await looks.of('p1'), '1');
  expect(pictures).toEqual([['', 'a spill', 'P', 1]]); // while the look is still here
  expect(asked[1]).toMatchObject({ looks: [{ note: 'a spill', photo: 'P', photoSha256: 'S' }] });
  expect(asked[1]).not.toHaveProperty('looks.0.picture');
  expect(await db.looks.count()).toBe(0);
  expect(looks.look(me, note, { answers: [], says: 'a spill', note: 'a spill' }, look)).toMatchObject({
    photo: '',
    photoSha256: '',
  });
});

test('many looks are signed some at a time', async () => {
  for (let i = 0; i < 41; i++) await keep(`T${i}`);
  await looks.sign(await looks.of('p1'), '1');
  expect(asked.map((a) => (a as { looks: unknown[] }).looks.length)).toEqual([40, 1]);
  expect(await db.looks.count()).toBe(0);
});
