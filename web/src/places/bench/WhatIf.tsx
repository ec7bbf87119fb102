import { useState } from 'react';
import type { components } from '../../api/schema';
import { type Answer, type Ask, calculate, type Sheet } from '../../core/calc';
import { unitText } from '../../kit/numbers';
import { Chart } from './Chart';

interface WhatIfProps {
  sheet: Sheet;
  ask: Ask;
  answer: Answer;
  cards: components['schemas']['Lubricant'][];
}

/** Which input matters most, and what the result would be if one of them were another. */
export function WhatIf({ sheet, ask, answer, cards }: WhatIfProps) {
  const effects = answer.effects ?? [];
  const main = answer.outputs.find((o) => typeof o.value === 'number');
  const [chosen, setChosen] = useState<string>();
  const key = effects.some((e) => e.key === chosen) ? chosen : effects[0]?.key;
  if (!key || !main) return null;
  const field = sheet.inputs.find((f) => f.key === key);
  const swept =
    calculate(sheet.name, { ...ask, effects: false, sweep: { key, from: 0, to: 0, points: 49 } }, cards).answer
      ?.sweep ?? [];
  const points = swept
    .map((p): [number, number] => [p.x, (p.values as Record<string, unknown> | null)?.[main.key] as number])
    .filter((p) => typeof p[1] === 'number');
  const present = answer.working.lines.find((l) => l.symbol === field?.symbol)?.value;
  const most = Math.max(...effects.map((e) => Math.abs(e.percent)));
  const mainUnit = sheet.outputs.find((f) => f.key === main.key)?.unit;
  return (
    <div className="whatif">
      <div className="rule">What matters most</div>
      <p className="dim">
        {main.label} changes by so many percent when one of these is 1 % (a temperature 1 K) more. Press one to see it
        over its range.
      </p>
      <ul className="effects">
        {effects.slice(0, 6).map((e) => (
          <li key={e.key}>
            <button type="button" aria-pressed={e.key === key} onClick={() => setChosen(e.key)}>
              <span>{e.label}</span>
              <i style={{ width: `${(Math.abs(e.percent) / most) * 100}%` }} className={e.percent < 0 ? 'less' : ''} />
              <b>
                {e.percent > 0 ? '+' : '−'}
                {Math.abs(e.percent).toFixed(2)} %
              </b>
            </button>
          </li>
        ))}
      </ul>
      {field && (
        <Chart
          points={points}
          mark={present !== undefined && typeof main.value === 'number' ? [present, main.value] : undefined}
          x={`${field.label}${field.unit ? `, ${unitText(field.unit)}` : ''}`}
          y={`${main.label}${mainUnit ? `, ${unitText(mainUnit)}` : ''}`}
          label={`${main.label} over ${field.label}`}
        />
      )}
    </div>
  );
}
