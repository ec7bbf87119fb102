// @vitest-environment happy-dom
import { cleanup, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, expect, test, vi } from 'vitest';
import { Refused } from '../api/client';
import { show } from '../testing/render';
import { NameAndPIN } from './signin';

const people = [
  { id: 'a', name: 'M. Tolley', role: 'technician' },
  { id: 'b', name: 'R. Abara', role: 'inspector' },
];
vi.mock('../api/client', async (original) => ({
  ...(await original<typeof import('../api/client')>()),
  usePeople: () => ({ data: people, isError: false }),
}));
vi.mock('../api/session', () => ({ useSession: () => ({ person: undefined }) }));
afterEach(cleanup);

test('a name, the digits, and it is done', async () => {
  const act = vi.fn(() => Promise.resolve());
  const done = vi.fn();
  show(<NameAndPIN verb="Go on" act={act} onDone={done} />);
  expect(screen.queryByLabelText(/PIN of/)).toBeNull();
  await userEvent.click(screen.getByRole('radio', { name: /R. Abara/ }));
  await userEvent.type(screen.getByLabelText('PIN of R. Abara'), '9340');
  await userEvent.click(screen.getByRole('button', { name: 'Go on' }));
  expect(act).toHaveBeenCalledWith(people[1], '9340', undefined);
  expect(done).toHaveBeenCalledOnce();
});

test('three digits are not sent', async () => {
  const act = vi.fn(() => Promise.resolve());
  show(<NameAndPIN verb="Go on" act={act} onDone={() => undefined} />);
  await userEvent.click(screen.getByRole('radio', { name: /M. Tolley/ }));
  await userEvent.type(screen.getByLabelText('PIN of M. Tolley'), '407{Enter}');
  expect(act).not.toHaveBeenCalled();
});

test('what is refused is said, and the digits are asked for again', async () => {
  const done = vi.fn();
  show(
    <NameAndPIN verb="Sign" act={() => Promise.reject(new Error('Name and PIN do not go together.'))} onDone={done} />,
  );
  await userEvent.click(screen.getByRole('radio', { name: /M. Tolley/ }));
  await userEvent.type(screen.getByLabelText('PIN of M. Tolley'), '1111{Enter}');
  expect(await screen.findByText('Name and PIN do not go together.')).toBeTruthy();
  expect((screen.getByLabelText('PIN of M. Tolley') as HTMLInputElement).value).toBe('');
  expect(done).not.toHaveBeenCalled();
});

test('only those who may are offered, and when nobody may it is said', () => {
  const { unmount } = show(
    <NameAndPIN
      verb="Sign"
      act={() => Promise.resolve()}
      onDone={() => undefined}
      only={(all) => all.filter((p) => p.id === 'b')}
    />,
  );
  expect(screen.getAllByRole('radio')).toHaveLength(1);
  unmount();
  show(
    <NameAndPIN
      verb="Sign"
      act={() => Promise.resolve()}
      onDone={() => undefined}
      only={() => []}
      nobody="Nobody here may sign this."
    />,
  );
  expect(screen.queryAllByRole('radio')).toHaveLength(0);
  expect(screen.getByText('Nobody here may sign this.')).toBeTruthy();
});

test('in the place of a PIN that was given an own one is asked for', async () => {
  const tried: (string | undefined)[] = [];
  const done = vi.fn();
  show(
    <NameAndPIN
      verb="Go on"
      act={async (_, pin, own) => {
        tried.push(pin, own);
        if (!own) throw new Refused({ title: 'This PIN was given to you.', status: 422, field: 'newPin' });
      }}
      onDone={done}
    />,
  );
  await userEvent.click(screen.getByRole('radio', { name: /M. Tolley/ }));
  await userEvent.type(screen.getByLabelText('PIN of M. Tolley'), '582212{Enter}');
  await userEvent.type(await screen.findByLabelText(/Your own PIN/), '8391{Enter}');
  expect(tried).toEqual(['582212', undefined, '582212', '8391']);
  expect(done).toHaveBeenCalledOnce();
});

test('a hundred names are searched', async () => {
  const many = Array.from({ length: 100 }, (_, i) => ({ id: `p${i}`, name: `Person ${i}`, role: 'technician' }));
  show(<NameAndPIN verb="Go on" act={() => Promise.resolve()} onDone={() => undefined} only={() => many} />);
  expect(screen.getAllByRole('radio')).toHaveLength(12);
  await userEvent.type(screen.getByLabelText('Name, or a part of it'), 'son 77');
  expect(screen.getAllByRole('radio')).toHaveLength(1);
});
