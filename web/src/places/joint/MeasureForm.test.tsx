// @vitest-environment happy-dom
import { act, cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeAll, expect, test, vi } from 'vitest';
import type { CheckState, ProcedureCheck, RunEvent } from '../../api/client';
import type { LocalRun } from '../../api/runStore';
import { useTyped } from '../../kit/figures';
import { realCore } from '../../testing/core';
import { show } from '../../testing/render';
import { TestForm } from './FitForms';
import { MeasureForm } from './MeasureForm';

let core: typeof globalThis.dynacorCore;
let arrive = () => {};
const arrived = vi.hoisted(() => ({ load: () => Promise.resolve() }));
vi.mock('../../core/core', () => ({ loadCore: () => arrived.load() }));
vi.mock('../../api/live', () => ({ useLive: () => undefined }));

beforeAll(async () => {
  await realCore();
  core = globalThis.dynacorCore;
});
afterEach(cleanup);

/** Takes the rules away until arrive is called. */
function withoutRules() {
  globalThis.dynacorCore = undefined;
  const there = new Promise<void>((done) => {
    arrive = () => {
      globalThis.dynacorCore = core;
      done();
    };
  });
  arrived.load = () => there;
}

test('readings sent before the rules are there are kept once they are', async () => {
  withoutRules();
  const kept: Partial<RunEvent>[] = [];
  show(
    <MeasureForm
      check={{ code: 'shell', names: ['shell'], unit: 'degC' } as ProcedureCheck}
      state={{} as CheckState}
      run={{} as LocalRun}
      onAnswer={(e) => kept.push(e)}
    />,
  );
  await userEvent.type(screen.getByLabelText(/shell/), '-4');
  await userEvent.click(screen.getByText('Keep the readings'));
  await userEvent.click(screen.getByText('Keep the readings')); // a second touch sends nothing twice
  expect(screen.queryByRole('alert')).toBeNull();
  arrive();
  await waitFor(() => expect(kept).toMatchObject([{ values: [{ value: -4, unit: 'degC', text: '-4' }] }]));
});

test('a test under pressure sent before the rules are there is kept once they are', async () => {
  withoutRules();
  const kept: Partial<RunEvent>[] = [];
  show(<TestForm check={{ code: 'proof', unit: 'bar' } as ProcedureCheck} onAnswer={(e) => kept.push(e)} />);
  const [method, reading, minutes] = screen.getAllByRole('textbox') as [HTMLElement, HTMLElement, HTMLElement];
  await userEvent.type(method, 'TP-1');
  await userEvent.type(reading, '12.5');
  await userEvent.type(minutes, '30');
  await userEvent.click(screen.getByText('Passed'));
  expect(screen.queryByRole('alert')).toBeNull();
  arrive();
  await waitFor(() => expect(kept).toMatchObject([{ answer: 'yes', values: [{ value: 12.5 }], minutes: 30 }]));
});

/** A field that shows what was read of it. */
function Field() {
  const field = useTyped('N_m');
  return (
    <>
      <input aria-label="torque" value={field.text} onChange={(e) => field.setText(e.target.value)} />
      <output>{field.wrong ?? field.reading?.si}</output>
    </>
  );
}

test('what was typed before the rules are there is read when they come', async () => {
  withoutRules();
  show(<Field />);
  await userEvent.type(screen.getByLabelText('torque'), '90');
  expect(screen.getByRole('status').textContent).toMatch(/still being fetched/);
  await act(async () => arrive());
  expect(screen.getByRole('status').textContent).toBe('90');
});
