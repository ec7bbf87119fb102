import { useEffect, useRef, useState } from 'react';
import type { Reading } from '../api/client';
import { loadCore } from '../core/core';

/** The one door by which what is typed becomes a figure: core reads it, here as on the server. */
export interface Typed {
  value: number; // as typed
  unit: string; // as typed, or the field's
  si: number;
  inField: number; // in the unit of the field
  wrong?: string; // why there is no figure
  choices?: string[]; // to choose from, when it may mean one of a few
}

const later: Typed = {
  value: Number.NaN,
  unit: '',
  si: Number.NaN,
  inField: Number.NaN,
  wrong: 'The rules are still being fetched. One moment.',
};

/** Reads what was typed into a field of a unit; unit '' asks for a plain number. */
export function typedAs(text: string, unit = ''): Typed {
  const core = globalThis.dynacorCore ?? globalThis.dynacorCalc; // whichever has come reads it, by the same code
  if (!core) {
    void loadCore().catch(() => undefined);
    return later;
  }
  return JSON.parse(core.typed(text, unit)) as Typed;
}

/** What was typed as a reading, with the words it was typed in; undefined when it cannot be read. */
export function readingOf(text: string, unit: string, t = typedAs(text, unit)): Reading | undefined {
  return t.wrong ? undefined : ({ value: t.value, unit: t.unit, si: t.si, text: text.trim() } as Reading);
}

/** Draws a part anew when the rules have come, so that what was typed before is read then. */
export function useRules() {
  const [, nowReady] = useState(!!globalThis.dynacorCore);
  useEffect(() => {
    void loadCore().then(
      () => nowReady(true),
      () => undefined,
    );
  }, []);
}

/** Does what is sent, once at a time and with the rules there to read what was typed; tells what went wrong. */
export function useOnce(tell: (e: unknown) => void) {
  const going = useRef(false);
  return async (act: () => unknown) => {
    if (going.current) return;
    going.current = true;
    try {
      await loadCore();
      await act();
    } catch (e) {
      tell(e);
    } finally {
      going.current = false;
    }
  };
}

/** Sends what was typed into a form of one question; what is wrong with it is said instead. */
export function useSend() {
  const [wrong, setWrong] = useState('');
  const once = useOnce((e) => setWrong((e as Error).message));
  const send = (act: () => void) => {
    setWrong('');
    void once(act);
  };
  return { wrong, send };
}

/** A field that is being typed into: nothing is said of it while it is empty. It begins anew when the key changes. */
export function useTyped(unit: string, key = '') {
  const [text, setText] = useState('');
  useRules();
  // biome-ignore lint/correctness/useExhaustiveDependencies: another key is another field
  useEffect(() => setText(''), [key]);
  const empty = text.trim() === '';
  const t = empty ? undefined : typedAs(text, unit);
  return {
    text,
    setText,
    empty,
    wrong: t?.wrong,
    choices: t?.choices ?? [],
    figure: t && !t.wrong ? t.inField : undefined,
    reading: t && readingOf(text, unit, t),
  };
}

/** What was typed as a plain number, NaN when it is none. */
export function plainFigure(text: string): number {
  const t = typedAs(text);
  return t.wrong ? Number.NaN : t.inField;
}

/** What was typed in the unit of its field, undefined when nothing was; throws what is wrong with it. */
export function figureIn(text: string, unit: string): number | undefined {
  if (text.trim() === '') return undefined;
  const t = typedAs(text, unit);
  if (t.wrong) throw new Error(t.wrong);
  return t.inField;
}
