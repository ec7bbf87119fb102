import { useEffect, useRef } from 'react';
import type { ShiftActivity, ShiftPlan } from '../../api/client';
import { lanesOf } from './lanes';
import type { HandData } from './useHand';
import { nameOf } from './words';

const step = 300_000; // five minutes

interface Keys {
  p: ShiftPlan | undefined;
  chosen: ShiftActivity | undefined;
  hand: HandData;
  choose: (a: ShiftActivity) => void;
  may: boolean;
  list: () => void; // list or board
  anew: () => void; // plan again
}

/** Everything that dragging does, by keys: arrows go from part to part; M takes one in the hand, arrows move it, Enter puts it down, Esc back; P pins; R plans again; L is the list. */
export function useShiftKeys(keys: Keys) {
  const latest = useRef(keys);
  latest.current = keys;
  const g = useRef(0); // g and a letter go to another place
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      const { p, chosen, hand, choose, may, list, anew } = latest.current;
      const on = e.target as HTMLElement | null;
      if (!p || !chosen || e.ctrlKey || e.altKey || e.metaKey || on?.closest('input, select, textarea, [role=dialog]'))
        return;
      if (Date.now() - g.current < 1200) return;
      if (e.key === 'g') g.current = Date.now();
      const acts: Record<string, () => void> = {
        l: list,
        r: anew,
        ...(may && !chosen.begun
          ? { m: () => hand.take(chosen, chosen.people[0] ?? ''), p: () => hand.pinHere(chosen) }
          : {}),
      };
      const act = acts[e.key];
      let used = true;
      if (hand.hand) used = inHand(e.key, p, hand);
      else if (act) act();
      else used = go(e.key, p, chosen, choose);
      if (used) {
        e.preventDefault();
        e.stopPropagation();
      }
    };
    addEventListener('keydown', press, true);
    return () => removeEventListener('keydown', press, true);
  }, []);
}

function inHand(key: string, p: ShiftPlan, hand: HandData): boolean {
  const h = hand.hand;
  if (!h) return false;
  const people = lanesOf(p).people;
  const at = people.indexOf(h.to);
  switch (key) {
    case 'ArrowLeft':
      hand.moveTo(Math.ceil(h.start / step) * step - step, h.to);
      return true;
    case 'ArrowRight':
      hand.moveTo(Math.floor(h.start / step) * step + step, h.to);
      return true;
    case 'ArrowUp':
    case 'ArrowDown': {
      const next = people[at + (key === 'ArrowUp' ? -1 : 1)];
      if (next) hand.moveTo(h.start, next);
      return true;
    }
    case 'Enter':
      hand.putDown();
      return true;
    case 'Escape':
      hand.back();
      return true;
  }
  return false;
}

/** Left and right along the lane of the chosen one, up and down to the nearest of another person. */
function go(key: string, p: ShiftPlan, chosen: ShiftActivity, choose: (a: ShiftActivity) => void): boolean {
  const lanes = lanesOf(p).lanes.filter((l) => l.of === 'people');
  const lane = lanes.findIndex((l) => l.name === chosen.people[0]);
  const mine = lanes[lane]?.acts ?? [];
  const at = mine.findIndex((a) => nameOf(a) === nameOf(chosen));
  let next: ShiftActivity | undefined;
  if (key === 'ArrowLeft') next = mine[at - 1];
  else if (key === 'ArrowRight') next = mine[at + 1];
  else if (key === 'ArrowUp' || key === 'ArrowDown') {
    const other = lanes[lane + (key === 'ArrowUp' ? -1 : 1)]?.acts ?? [];
    const t = Date.parse(chosen.start);
    next = [...other].sort((a, b) => Math.abs(Date.parse(a.start) - t) - Math.abs(Date.parse(b.start) - t))[0];
  }
  if (!next) return false;
  choose(next);
  const name = nameOf(next);
  requestAnimationFrame(() => {
    const bar = document.querySelector<SVGGElement>(`[data-bar="${CSS.escape(name)}"]`);
    bar?.focus();
    bar?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  });
  return true;
}
