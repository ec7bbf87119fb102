import { useEffect, useRef } from 'react';
import { type Code, readCode } from './code';

/** Takes a code that it asked for; false when it did not ask for one like it. */
type Taker = (code: Code) => boolean;

const takers: Taker[] = [];
let go: ((code: Code) => void) | undefined;
let show: (() => void) | undefined;

/** Offers codes that are scanned to a form while it is shown, the one shown last first. */
export function useTaker(take: Taker) {
  const now = useRef(take);
  useEffect(() => {
    now.current = take;
  });
  useEffect(() => {
    const own: Taker = (code) => now.current(code);
    takers.unshift(own);
    return () => void takers.splice(takers.indexOf(own), 1);
  }, []);
}

/** Says what happens with a code that no form has asked for, and what shows the camera. */
export function serveScans(act: (code: Code) => void, open: () => void) {
  go = act;
  show = open;
}

/** Opens the camera, to scan for whoever asks or to go to a thing. */
export const openScan = () => show?.();

/** Gives a code to the form that asked for it. asked is set when whoever scanned looks at nothing else: then a code that
 * nobody asked for leads to its thing. */
export function scanned(text: string, asked: boolean): boolean {
  const code = readCode(text, window.location.host);
  if (takers.some((t) => t(code))) return true;
  if (!asked && code.kind === 'text') return false;
  go?.(code);
  return true;
}
