import { TextInput, type TextInputProps } from '@mantine/core';
import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import { flushSync } from 'react-dom';
import { loadCore } from '../core/core';
import { typedAs } from './figures';

interface WrongProps {
  wrong: string | undefined;
  choices?: string[] | undefined;
  onChoose: (text: string) => void;
}

/** Why what was typed is no figure, and what may have been meant. */
export function NotAFigure({ wrong, choices, onChoose }: WrongProps) {
  if (!wrong) return null;
  return (
    <span className="wrong which" role="alert">
      {choices?.length ? 'Which is meant?' : wrong}
      {choices?.map((c) => (
        <button key={c} type="button" className="btn" onClick={() => onChoose(c)}>
          {c}
        </button>
      ))}
    </span>
  );
}

interface FigureProps extends Omit<TextInputProps, 'value' | 'onChange'> {
  value: number | undefined | '';
  unit?: string; // of the field; another unit may be typed and is converted
  onChange: (v: number | '') => void; // NaN: typed, and no figure; '' when it is empty
}

const shown = (v: number | undefined | '') => (v === undefined || v === '' || Number.isNaN(v) ? '' : String(v));

// What was typed before the rules were there is told to the forms figure by figure, each once the one before is drawn:
// a form that puts a figure beside what it had when it was drawn would take the others back. Then forms that wait are
// sent.
let told = Promise.resolve();
const inTurn = (act: () => void) => {
  const next = new Promise<void>((done) => {
    void told.then(() =>
      setTimeout(() => {
        try {
          act();
        } finally {
          done();
        }
      }),
    );
  });
  told = next;
};

/** A field for a figure. What is typed is read by core: point or comma, a unit, a fraction; what could mean two things is asked. */
export function Figure({ value, unit = '', onChange, error, ...rest }: FigureProps) {
  const [text, setText] = useState(shown(value));
  const [ready, nowReady] = useState(!!globalThis.dynacorCore);
  useEffect(() => {
    void loadCore().then(
      () => nowReady(true),
      () => undefined,
    );
  }, []);
  const t = text.trim() === '' ? undefined : typedAs(text, unit);
  const figure = t === undefined ? '' : t.wrong ? Number.NaN : t.inField;
  // A form that is sent off before the rules are there would take figures for none: it goes once they are read.
  const input = useRef<HTMLInputElement>(null);
  const sent = useRef(false);
  useEffect(() => {
    const form = input.current?.form;
    if (ready || !form) return;
    const wait = (e: Event) => {
      e.preventDefault();
      e.stopImmediatePropagation();
      sent.current = true;
    };
    form.addEventListener('submit', wait, true);
    return () => form.removeEventListener('submit', wait, true);
  }, [ready]);
  const tell = useRef(onChange);
  useLayoutEffect(() => {
    tell.current = onChange;
  });
  const untold = useRef(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: only when the rules have come
  useEffect(() => {
    if (!ready) return;
    if (typeof figure === 'number' && !Number.isNaN(figure) && !Object.is(figure, value)) {
      untold.current = true;
      inTurn(() => {
        if (!untold.current) return; // something newer was typed
        flushSync(() => tell.current(figure));
        untold.current = false;
      });
    }
    if (!sent.current) return;
    sent.current = false;
    setTimeout(() => inTurn(() => input.current?.form?.requestSubmit())); // behind the figures of the whole form
  }, [ready]);
  // A value that comes from elsewhere takes the place of what was typed; its own does not.
  const own =
    Object.is(figure, value) ||
    (figure === '' && (value === undefined || value === '')) ||
    (Number.isNaN(figure) && !value) ||
    Number.isNaN(value);
  useEffect(() => {
    if (!own && !untold.current) setText(shown(value));
  }, [own, value]);
  const put = (next: string) => {
    setText(next);
    untold.current = false;
    const r = next.trim() === '' ? undefined : typedAs(next, unit);
    onChange(r === undefined ? '' : r.wrong ? Number.NaN : r.inField);
  };
  return (
    <TextInput
      {...rest}
      ref={input}
      inputMode="decimal"
      value={text}
      onChange={(e) => put(e.currentTarget.value)}
      error={
        t?.wrong && globalThis.dynacorCore ? <NotAFigure wrong={t.wrong} choices={t.choices} onChoose={put} /> : error
      }
    />
  );
}
