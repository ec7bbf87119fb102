// @vitest-environment happy-dom
import { TextInput } from '@mantine/core';
import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, expect, test, vi } from 'vitest';
import { Refused } from '../api/client';
import { show } from '../testing/render';
import { SheetEnd } from './SheetEnd';
import { useSheet } from './sheet';

vi.mock('../core/core', () => ({ loadCore: () => Promise.resolve() }));
afterEach(cleanup);

function Sheet({ send }: { send: (v: { tag: string; range: string }) => unknown }) {
  const sheet = useSheet({ tag: 'W-1', range: '' }, send);
  return (
    <form onSubmit={sheet.submit}>
      <TextInput label="Tag" {...sheet.field('tag')} />
      <TextInput label="Range" {...sheet.field('range', 'gauge.range')} />
      <SheetEnd sheet={sheet} verb="Keep" onBack={() => undefined} />
    </form>
  );
}
const keep = () => userEvent.click(screen.getByText('Keep'));
const problem = (field?: string) => new Refused({ title: 'Not so.', status: 422, ...(field ? { field } : {}) });

test('what was typed is sent, once at a time', async () => {
  let done = () => {};
  const sent: unknown[] = [];
  show(
    <Sheet
      send={(v) => {
        sent.push(v);
        return new Promise<void>((r) => {
          done = r;
        });
      }}
    />,
  );
  await userEvent.type(screen.getByLabelText('Range'), '40');
  await keep();
  await keep();
  expect(sent).toEqual([{ tag: 'W-1', range: '40' }]);
  done();
  await waitFor(async () => {
    await keep();
    expect(sent).toHaveLength(2);
  });
});

test('a refusal stands beside the field it names, by the name of the server, until it is typed over', async () => {
  const send = vi.fn().mockRejectedValue(problem('tag'));
  show(<Sheet send={send} />);
  await keep();
  expect(screen.getByLabelText('Tag').getAttribute('aria-invalid')).toBe('true');
  expect(screen.queryByRole('alert')).toBeNull();
  await userEvent.type(screen.getByLabelText('Tag'), '2');
  expect(screen.getByLabelText('Tag').getAttribute('aria-invalid')).not.toBe('true');
  send.mockRejectedValue(problem('gauge.range'));
  await keep();
  expect(screen.getByLabelText('Range').getAttribute('aria-invalid')).toBe('true');
});

test('a refusal without a field of the form stands at its end', async () => {
  const send = vi.fn().mockRejectedValue(problem('reason'));
  show(<Sheet send={send} />);
  await keep();
  expect(screen.getByRole('alert').textContent).toBe('Not so.');
  send.mockRejectedValue(new Error('No signal.'));
  await keep();
  expect(screen.getByRole('alert').textContent).toBe('No signal.');
  send.mockResolvedValue(undefined);
  await keep();
  await waitFor(() => expect(screen.queryByRole('alert')).toBeNull());
});
