import { Checkbox } from '@mantine/core';
import { useState } from 'react';
import { Figure } from '../../kit/Figure';
import { filled, type Step } from './draft';

/** A step while it is typed: a field may be empty. */
interface Row {
  key: number;
  bar: number | '';
  min: number | '';
  look: boolean;
  test: boolean;
}

const rowsOf = (steps: Step[]): Row[] => steps.map((s, key) => ({ key, ...s }));

/** The steps of a test as the document has them: pressure, minutes, whether every joint is looked at, which hold is judged. */
export function StepsEditor({
  first,
  wrong,
  onChange,
}: {
  first: Step[];
  wrong: string | undefined;
  onChange: (steps: Step[]) => void;
}) {
  const [rows, setRows] = useState(() => rowsOf(first));
  const [next, setNext] = useState(first.length);
  const put = (list: Row[]) => {
    setRows(list);
    onChange(list.map((r) => ({ bar: filled(r.bar), min: filled(r.min), look: r.look, test: r.test })));
  };
  const change = (key: number, part: Partial<Row>) => put(rows.map((r) => (r.key === key ? { ...r, ...part } : r)));
  return (
    <div className="steps-edit">
      {rows.map((r, i) => (
        <fieldset key={r.key}>
          <legend>Step {i + 1}</legend>
          <Figure label="Pressure, bar" unit="bar" value={r.bar} onChange={(bar) => change(r.key, { bar })} />
          <Figure label="Held, min" unit="min" value={r.min} onChange={(min) => change(r.key, { min })} />
          <Checkbox
            label="look at every joint"
            checked={r.look}
            onChange={(e) => change(r.key, { look: e.currentTarget.checked })}
          />
          <Checkbox
            label="this hold is judged"
            checked={r.test}
            onChange={(e) => {
              const test = e.currentTarget.checked;
              put(rows.map((x) => ({ ...x, test: x.key === r.key ? test : test ? false : x.test })));
            }}
          />
          <button
            type="button"
            className="btn sm"
            aria-label={`Take out step ${i + 1}`}
            onClick={() => put(rows.filter((x) => x.key !== r.key))}
          >
            Take out
          </button>
        </fieldset>
      ))}
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
      <button
        type="button"
        className="btn sm"
        disabled={rows.length >= 40}
        onClick={() => {
          put([...rows, { key: next, bar: '', min: '', look: false, test: false }]);
          setNext(next + 1);
        }}
      >
        One more step
      </button>
    </div>
  );
}
