import type { LabelStock } from '../../api/client';

/** Where the labels of a stock lie, in mm, counted from 1 line by line. */
export const placesOf = (s: Pick<LabelStock, 'across' | 'down' | 'left' | 'top' | 'stepX' | 'stepY'>) =>
  Array.from({ length: s.across * s.down }, (_, i) => ({
    n: i + 1,
    x: s.left + (i % s.across) * s.stepX,
    y: s.top + Math.floor(i / s.across) * s.stepY,
  }));
