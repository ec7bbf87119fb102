// @vitest-environment happy-dom
import { cleanup, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, expect, test, vi } from 'vitest';
import { show } from '../testing/render';
import { StationLine } from './StationLine';

afterEach(cleanup);

const line = [
  { code: 'read', name: 'Read', sub: 'read 08:10', state: 'done' as const },
  { code: 'ready', name: 'Ready', sub: '4 of 6', state: 'stopped' as const, flag: 'gasket' },
  { code: 'tighten', name: 'Tighten', sub: 'pass 1 of 4', state: 'ahead' as const },
];

test('what lies behind can be looked at, what lies ahead cannot', async () => {
  const view = vi.fn();
  show(<StationLine stations={line} viewed="ready" onView={view} />);
  await userEvent.click(screen.getByRole('button', { name: /Read.*cleared/ }));
  expect(view).toHaveBeenCalledWith('read');
  const ahead = screen.getByRole('button', { name: /Tighten.*ahead/ }) as HTMLButtonElement;
  expect(ahead.disabled).toBe(true);
  expect(view).toHaveBeenCalledOnce();
});

test('the one looked at is told to those who listen, and a stop stands in words beside it', () => {
  show(<StationLine stations={line} viewed="ready" onView={() => undefined} />);
  const ready = screen.getByRole('button', { name: /Ready/ });
  expect(ready.getAttribute('aria-current')).toBe('step');
  expect(ready.textContent).toContain('gasket');
  expect(ready.textContent).toContain('stopped');
  expect(ready.textContent).not.toContain('4 of 6');
});
