import { useCallback, useEffect, useRef, useState } from 'react';
import { api, type Constraints, must, type ShiftActivity, type ShiftVerdict } from '../../api/client';
import type { ShiftData } from './useShift';

/** A part of the work in the hand: where it would stand, with whom, and what that breaks. */
export interface Hand {
  a: ShiftActivity;
  lane: string; // name of who gives it away
  start: number; // ms
  to: string; // name of who would take it
  down: boolean; // it was put down where something breaks
  verdict?: ShiftVerdict;
  wrong?: string;
}

type Pin = Constraints['pins'][number];

/** Takes a part of the work in the hand, asks at each step what breaks, and pins it where it is put down. */
export function useHand(d: ShiftData) {
  const [hand, setHand] = useState<Hand>();
  const people = d.constraints.data?.people ?? [];
  const idOf = useCallback((name: string) => people.find((p) => p.name === name)?.id ?? '', [people]);
  const asking = useRef<{ busy: boolean; next: Hand | undefined }>({ busy: false, next: undefined });
  const latest = useRef(d);
  latest.current = d;

  // One question at a time: what moved meanwhile is asked for when the answer is there.
  const ask = useCallback(
    async (h: Hand) => {
      const q = asking.current;
      if (q.busy) {
        q.next = h;
        return;
      }
      q.busy = true;
      const now = latest.current;
      try {
        const verdict = await must(
          api.POST('/packages/{code}/shift/move', {
            params: { path: { code: now.code ?? '' } },
            body: {
              ask: now.wholeAsk(),
              inForce: !now.fresh,
              tag: h.a.tag,
              kind: h.a.kind,
              start: new Date(h.start).toISOString(),
              from: idOf(h.lane),
              to: idOf(h.to),
            },
          }),
        );
        setHand(
          (old) =>
            (old && old.start === h.start && old.to === h.to ? { ...old, verdict, wrong: undefined } : old) as Hand,
        );
      } catch (e) {
        setHand((old) => (old ? { ...old, verdict: undefined, wrong: (e as Error).message } : old) as Hand);
      } finally {
        q.busy = false;
        const next = q.next;
        q.next = undefined;
        if (next) void ask(next);
      }
    },
    [idOf],
  );

  const take = (a: ShiftActivity, lane: string) => {
    const h: Hand = { a, lane, start: Date.parse(a.start), to: lane, down: false };
    setHand(h);
    void ask(h);
  };
  const moveTo = (start: number, to: string) => {
    if (!hand || (hand.start === start && hand.to === to)) return;
    const { verdict: _, wrong: __, ...rest } = hand;
    const h: Hand = { ...rest, start, to, down: false };
    setHand(h);
    void ask(h);
  };
  const back = () => setHand(undefined);

  /** Pins a part: at a time of the site's clocks, with somebody, or both. */
  const pin = (a: ShiftActivity, what: Partial<Pin>) => {
    const c = d.constraints.data?.constraints;
    if (!c) return;
    const old = c.pins.find((p) => p.tag === a.tag && p.kind === a.kind);
    const next: Pin = {
      tag: a.tag,
      kind: a.kind,
      person: '',
      notBefore: '',
      start: '',
      reason: '',
      by: '',
      ...old,
      ...what,
    };
    d.change.mutate(
      { ...c, pins: [...c.pins.filter((p) => p.tag !== a.tag || p.kind !== a.kind), next] },
      { onSuccess: back },
    );
  };
  /** Pins a part where it stands, with who does it: the server says when that is by the site's clocks. */
  const pinHere = async (a: ShiftActivity) => {
    const v = await must(
      api.POST('/packages/{code}/shift/move', {
        params: { path: { code: d.code ?? '' } },
        body: { ask: d.wholeAsk(), inForce: !d.fresh, tag: a.tag, kind: a.kind, start: a.start, from: '', to: '' },
      }),
    );
    pin(a, { start: v.clock, person: a.ids[0] ?? '' });
  };
  const unpin = (a: ShiftActivity) => {
    const c = d.constraints.data?.constraints;
    if (c) d.change.mutate({ ...c, pins: c.pins.filter((p) => p.tag !== a.tag || p.kind !== a.kind) });
  };
  const put = (start: string, reason = '') => {
    if (!hand) return;
    pin(hand.a, { start, notBefore: '', reason, ...(hand.to !== hand.lane ? { person: idOf(hand.to) } : {}) });
  };
  /** Puts it down: pinned when nothing breaks, else it waits for a word. */
  const putDown = () => {
    if (!hand) return;
    if (hand.start === Date.parse(hand.a.start) && hand.to === hand.lane) back();
    else if (hand.verdict && hand.verdict.breaks.length === 0) put(hand.verdict.clock);
    else setHand({ ...hand, down: true });
  };
  // Put down before the answer came: it is pinned when the answer says that nothing breaks.
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked once for each answer
  useEffect(() => {
    if (hand?.down && hand.verdict?.breaks.length === 0) put(hand.verdict.clock);
  }, [hand?.verdict]);
  return { hand, take, moveTo, back, put, putDown, pin, pinHere, unpin };
}

export type HandData = ReturnType<typeof useHand>;
