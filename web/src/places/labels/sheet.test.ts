import { expect, test } from 'vitest';
import { placesOf } from './sheet';

test('labels are counted line by line', () => {
  const at = placesOf({ across: 3, down: 2, left: 5, top: 7, stepX: 60, stepY: 30 });
  expect(at).toHaveLength(6);
  expect(at[0]).toEqual({ n: 1, x: 5, y: 7 });
  expect(at[4]).toEqual({ n: 5, x: 65, y: 37 });
});
