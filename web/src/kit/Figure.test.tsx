// @vitest-environment happy-dom
import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { afterEach, beforeAll, beforeEach, expect, test, vi } from 'vitest';
import { realCore } from '../testing/core';
import { show } from '../testing/render';
import { Figure } from './Figure';

let core: typeof globalThis.dynacorCore;
const arrived = vi.hoisted(() => ({ load: () => Promise.resolve() }));
vi.mock('../core/core', () => ({ loadCore: () => arrived.load() }));

beforeAll(async () => {
  await realCore();
  core = globalThis.dynacorCore;
});
beforeEach(() => {
  globalThis.dynacorCore = core;
  arrived.load = () => Promise.resolve();
});
afterEach(cleanup);

/** A form with one figure, which shows what it has. */
function Form({ unit = '', begin = 40 }: { unit?: string; begin?: number | '' }) {
  const [v, setV] = useState<number | ''>(begin);
  return (
    <>
      <Figure label="Torque" unit={unit} value={v} onChange={setV} />
      <output>{v === '' ? 'empty' : String(v)}</output>
      <button type="button" onClick={() => setV(7)}>
        seven
      </button>
    </>
  );
}
function Zero() {
  const [v, setV] = useState<number | ''>('');
  return (
    <>
      <Figure label="Torque" value={v || ''} onChange={(x) => setV(x === '' || Number.isNaN(x) ? 0 : x)} />
      <output>{String(v)}</output>
    </>
  );
}
function Sent({ to }: { to: unknown[] }) {
  const [v, setV] = useState<number | ''>('');
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        to.push(v);
      }}
    >
      <Figure label="Torque" value={v} onChange={setV} />
      <button type="submit">Keep</button>
    </form>
  );
}
const has = () => screen.getByRole('status').textContent;
const type = async (text: string) => {
  const field = screen.getByLabelText('Torque');
  await userEvent.clear(field);
  if (text) await userEvent.type(field, text);
};

test('what is typed is read by core, in the unit of the field', async () => {
  show(<Form unit="N_m" />);
  await type('80');
  expect(has()).toBe('80');
  await type('80,5');
  expect(has()).toBe('80.5');
  await type('100 ft-lb');
  expect(Number(has())).toBeCloseTo(135.58, 2);
  await type('');
  expect(has()).toBe('empty');
});

test('what could mean two things is asked and not guessed', async () => {
  show(<Form unit="N_m" />);
  await type('1,250');
  expect(has()).toBe('NaN');
  expect(screen.getByRole('alert').textContent).toContain('Which is meant?');
  const [first] = screen.getAllByRole('button');
  await userEvent.click(first as HTMLElement);
  expect(['1250', '1.25']).toContain(has());
  expect(screen.queryByRole('alert')).toBeNull();
});

test('what is no figure says why and is no value', async () => {
  show(<Form />);
  await type('about ten');
  expect(has()).toBe('NaN');
  expect(screen.getByRole('alert').textContent).not.toBe('');
});

test('a value from elsewhere takes the place of what was typed, its own does not', async () => {
  show(<Form />);
  await type('4.50');
  expect((screen.getByLabelText('Torque') as HTMLInputElement).value).toBe('4.50');
  await userEvent.click(screen.getByText('seven'));
  expect((screen.getByLabelText('Torque') as HTMLInputElement).value).toBe('7');
});

test('what was typed before the rules had come is read when they have', async () => {
  globalThis.dynacorCore = undefined;
  let come: () => void = () => undefined;
  const coming = new Promise<void>((done) => {
    come = done;
  });
  arrived.load = () => coming;
  show(<Form />);
  await type('80');
  expect(has()).toBe('NaN');
  globalThis.dynacorCore = core;
  come();
  await waitFor(() => expect(has()).toBe('80'));
});

test('so is it where the form holds nothing in the place of no figure', async () => {
  globalThis.dynacorCore = undefined;
  let come: () => void = () => undefined;
  const coming = new Promise<void>((done) => {
    come = done;
  });
  arrived.load = () => coming;
  show(<Zero />);
  await type('80');
  expect(has()).toBe('0');
  globalThis.dynacorCore = core;
  come();
  await waitFor(() => expect(has()).toBe('80'));
});

test('a form that is sent off before the rules are there goes once they have read it', async () => {
  let come = () => {};
  const coming = new Promise<void>((done) => {
    come = () => {
      globalThis.dynacorCore = core;
      done();
    };
  });
  arrived.load = () => coming;
  globalThis.dynacorCore = undefined;
  const went: unknown[] = [];
  show(<Sent to={went} />);
  await type('400');
  await userEvent.click(screen.getByText('Keep'));
  expect(went).toEqual([]);
  come();
  await waitFor(() => expect(went).toEqual([400]));
});

/** Two figures in a form that puts each beside what it had when it was drawn. */
function Two({ to }: { to: unknown[] }) {
  const [v, setV] = useState<{ set: number | ''; read: number | '' }>({ set: '', read: '' });
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        to.push([v.set, v.read]);
      }}
    >
      <Figure label="Set" value={v.set} onChange={(set) => setV({ ...v, set })} />
      <Figure label="Read" value={v.read} onChange={(read) => setV({ ...v, read })} />
      <output>{`${v.set} ${v.read}`}</output>
      <button type="submit">Keep</button>
    </form>
  );
}

test('figures typed before the rules are there do not take each other back', async () => {
  let come = () => {};
  const coming = new Promise<void>((done) => {
    come = () => {
      globalThis.dynacorCore = core;
      done();
    };
  });
  arrived.load = () => coming;
  globalThis.dynacorCore = undefined;
  const went: unknown[] = [];
  show(<Two to={went} />);
  await userEvent.type(screen.getByLabelText('Set'), '400');
  await userEvent.type(screen.getByLabelText('Read'), '384');
  await userEvent.click(screen.getByText('Keep'));
  come();
  await waitFor(() => expect(went).toEqual([[400, 384]]));
  expect(has()).toBe('400 384');
  expect((screen.getByLabelText('Set') as HTMLInputElement).value).toBe('400');
});
