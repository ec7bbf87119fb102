// @vitest-environment happy-dom
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { listenToScanners } from './wedge';

let stop: () => void;
const taken: string[] = [];
let takes = true;
let pressed = ''; // what the page's own keys see
const page = (e: KeyboardEvent) => {
  pressed += e.key;
};

beforeEach(() => {
  vi.useFakeTimers();
  taken.length = 0;
  takes = true;
  pressed = '';
  document.body.innerHTML = '<input><button>b</button>';
  stop = listenToScanners((text, inField) => {
    taken.push(`${text}${inField ? ' in a field' : ''}`);
    return takes;
  });
  document.addEventListener('keydown', page);
});
afterEach(() => {
  stop();
  document.removeEventListener('keydown', page);
  vi.useRealTimers();
});

let at = 0;
/** Keys so many ms apart; into a field they are written as a browser would. */
function type(text: string, gap: number, target: HTMLElement = document.body) {
  for (const key of text.split('').map((c) => (c === '\n' ? 'Enter' : c))) {
    at += gap;
    vi.advanceTimersByTime(gap);
    const e = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true });
    Object.defineProperty(e, 'timeStamp', { value: at });
    target.dispatchEvent(e);
    if (target instanceof HTMLInputElement && key.length === 1 && !e.defaultPrevented) target.value += key;
  }
}

test('a scan outside a field is taken, and none of its keys acts', () => {
  type('dynacor:/joints/SW-1\n', 8);
  expect(taken).toEqual(['dynacor:/joints/SW-1']);
  vi.advanceTimersByTime(500);
  expect(pressed).toBe('');
});

test('a space inside a scan presses nothing', () => {
  type('DYNACOR TS-1 0f\n', 8, document.querySelector('button') as HTMLElement);
  expect(taken).toEqual(['DYNACOR TS-1 0f']);
  expect(pressed).toBe('');
  type(' ', 500, document.querySelector('button') as HTMLElement);
  expect(pressed).toBe(' ');
});

test('keys of a person act as before, a moment later', () => {
  type('d', 400);
  type('gj', 200);
  vi.advanceTimersByTime(100);
  expect(pressed).toBe('dgj');
  type('W-31\n', 120);
  vi.advanceTimersByTime(100);
  expect(taken).toEqual([]);
  expect(pressed).toBe('dgjW-31Enter');
});

test('a scan into a field that was for somebody else leaves the field as it was', () => {
  const input = document.querySelector('input') as HTMLInputElement;
  input.value = '12';
  type('W-31\n', 8, input);
  expect(taken).toEqual(['W-31 in a field']);
  expect(input.value).toBe('12');
});

test('a scan that nobody asked for stays in the field', () => {
  takes = false;
  const input = document.querySelector('input') as HTMLInputElement;
  type('HEAT 4711\n', 8, input);
  expect(input.value).toBe('HEAT 4711');
  expect(pressed.endsWith('Enter')).toBe(true);
});

test('three keys and Enter are no scan, however fast', () => {
  type('315\n', 8);
  expect(taken).toEqual([]);
  expect(pressed).toBe('315Enter');
});
