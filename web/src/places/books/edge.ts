import type { DossierEntry as Entry } from '../../api/client';

/** Leaves in the order of binding, drawn as one piece: made, to come, or nobody has it yet. */
export interface Piece {
  from: number; // leaf before it
  leaves: number;
  state: 'made' | 'to come' | 'gap';
}

export interface Chapter {
  chapter: Entry['chapter'];
  leaves: number;
  pieces: Piece[];
}

/** The chapters of a book with their leaves. What is drawn has its own leaves, what is not about as many as it will take. */
export function chaptersOf(entries: Entry[], drawn: number[]): Chapter[] {
  const list: Chapter[] = [];
  entries.forEach((e, i) => {
    let c = list.at(-1);
    if (c?.chapter !== e.chapter) {
      c = { chapter: e.chapter, leaves: 0, pieces: [] };
      list.push(c);
    }
    const leaves = drawn[i] ?? e.leaves;
    const state = e.gap ? 'gap' : i < drawn.length ? 'made' : 'to come';
    const last = c.pieces.at(-1);
    if (last?.state === state && state !== 'gap') last.leaves += leaves;
    else c.pieces.push({ from: c.leaves, leaves, state });
    c.leaves += leaves;
  });
  return list;
}

/** First and last leaf of each entry. */
export function spansOf(entries: Entry[], drawn: number[]): [number, number][] {
  let at = 0;
  return entries.map((e, i) => {
    const n = drawn[i] ?? e.leaves;
    at += n;
    return [at - n + 1, at];
  });
}

/** How many leaves one stroke stands for, so that strokes are no closer than 4 px. */
export function leavesOfStroke(leaves: number, width: number): number {
  return [1, 2, 5, 10, 20, 50, 100].find((n) => (width * n) / leaves >= 4) ?? 200;
}

/** About how many minutes are left, from how long the leaves so far have taken; undefined when too few are drawn to tell. */
export function minutesLeft(begun: number, now: number, done: number, about: number): number | undefined {
  if (done < 8 || now <= begun) return undefined;
  return ((now - begun) / 60_000 / done) * Math.max(0, about - done);
}
