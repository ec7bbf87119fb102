import { TextInput, type TextInputProps } from '@mantine/core';
import { useEffect, useRef, useState } from 'react';
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
  // A value that comes from elsewhere takes the place of what was typed; its own does not.
  const own =
    Object.is(figure, value) ||
    (figure === '' && (value === undefined || value === '')) ||
    (Number.isNaN(figure) && !value) ||
    Number.isNaN(value);
  useEffect(() => {
    if (!own) setText(shown(value));
  }, [own, value]);
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
  useEffect(() => {
    if (!ready || !sent.current) return;
    sent.current = false;
    const later = setTimeout(() => input.current?.form?.requestSubmit()); // what was read is in its form by then
    return () => clearTimeout(later);
  }, [ready]);
  // What was typed before the rules were there is read now.
  // biome-ignore lint/correctness/useExhaustiveDependencies: only when they have come
  useEffect(() => {
    if (ready && typeof figure === 'number' && !Number.isNaN(figure) && !Object.is(figure, value)) onChange(figure);
  }, [ready]);
  const put = (next: string) => {
    setText(next);
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
