import { wholeOf } from '../../kit/numbers';

/** Whole numbers as people write them one after another. */
export const stagesOf = (text: string): number[] =>
  text
    .split(/[^0-9]+/)
    .filter(Boolean)
    .map(wholeOf);
