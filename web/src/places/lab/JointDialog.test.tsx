// @vitest-environment happy-dom
import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeAll, beforeEach, expect, test, vi } from 'vitest';
import { realCore } from '../../testing/core';
import { show } from '../../testing/render';
import type { LabSetup } from './ask';
import { JointDialog } from './JointDialog';

const size = { text: 'DN 300 PN 25', standard: 'EN', bolts: 16, thread: 'M27', boltCircleMm: 430, raisedFaceMm: 395 };
const held = vi.hoisted(() => ({ sized: (_: unknown): void => undefined, asked: [] as LabSetup[] }));
vi.mock('../../core/core', () => ({ loadCore: () => Promise.resolve() }));
vi.mock('../../api/client', async (whole) => ({
  ...(await whole<object>()),
  useLibrary: () => ({ data: { flanges: [size] } }),
  api: { GET: () => Promise.resolve({ data: { rows: [] }, response: { ok: true } }) },
}));
vi.mock('./ask', () => ({
  nothing: {},
  ask: (name: string, q: { setup: LabSetup }) => {
    if (name === 'sized') return new Promise((done) => (held.sized = done));
    if (name === 'of') held.asked.push(q.setup);
    return Promise.resolve(name === 'laws' || name === 'sizes' ? [] : {});
  },
}));

beforeAll(realCore);
beforeEach(() => {
  held.asked.length = 0;
});
afterEach(cleanup);

const before = {
  bolts: 8,
  thread: 'M16',
  gasket: 'sheet',
  targetKn: 100,
  boltCircleMm: 0,
  frictionPct: 10,
} as LabSetup;
const sized = { ...before, flange: size.text, bolts: 16, thread: 'M27', boltCircleMm: 430, faceMm: 395, boreMm: 300 };

async function bySize() {
  const [user, onDone] = [userEvent.setup(), vi.fn()];
  show(<JointDialog setup={before} onBack={() => undefined} onTag={() => undefined} onDone={onDone} />);
  await user.click(screen.getByRole('combobox', { name: 'Flange by its size' }));
  await user.click(await screen.findByText(/^DN 300 PN 25, 16/));
  return { user, onDone };
}

// The size is worked out in a worker. Who sends the form at once, or goes on typing, loses neither.
test('a joint by its size is used with its size, however late that comes', async () => {
  const { user, onDone } = await bySize();
  await user.clear(screen.getByLabelText('Friction spreads, %'));
  await user.type(screen.getByLabelText('Friction spreads, %'), '25');
  await user.click(screen.getByRole('button', { name: 'Use this joint' }));
  expect(onDone).not.toHaveBeenCalled();
  held.sized(sized);
  await waitFor(() => expect(onDone).toHaveBeenCalled());
  expect(onDone.mock.calls[0]?.[0]).toMatchObject({
    flange: 'DN 300 PN 25',
    bolts: 16,
    boltCircleMm: 430,
    frictionPct: 25,
  });
  expect(held.asked[0]).toMatchObject({ bolts: 16, frictionPct: 25 });
});

test('a number of bolts typed after the size was chosen stays', async () => {
  const { user, onDone } = await bySize();
  await user.clear(screen.getByLabelText('Bolts'));
  await user.type(screen.getByLabelText('Bolts'), '12');
  held.sized(sized);
  await user.click(screen.getByRole('button', { name: 'Use this joint' }));
  await waitFor(() => expect(onDone).toHaveBeenCalled());
  expect(onDone.mock.calls[0]?.[0]).toMatchObject({ flange: '', bolts: 12, thread: 'M16' });
});
