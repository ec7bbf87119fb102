import { Select, TextInput } from '@mantine/core';
import { useState } from 'react';
import type { Plan, RunEvent } from '../../api/client';

const words: Record<string, string> = {
  kept: 'kept',
  scrapped: 'thrown away',
  repair: 'to be repaired',
  stays: 'stays on the machine',
};
const usual: Record<string, string> = { scrap: 'scrapped', inspect: 'kept', match: 'kept', stays: 'stays' };
const asks: Record<string, string> = {
  scrap: 'used once: it never goes in again',
  inspect: 'look it over first',
  match: 'belongs to its neighbours: mark it',
  stays: 'stays on the machine',
};

/** What becomes of each part that came out: what never goes in again, what is kept and with what it belongs together. */
export function FatesForm({ plan, onAnswer }: { plan: Plan; onAnswer: (e: Partial<RunEvent>) => void }) {
  const [found, setFound] = useState<Record<string, string>>({});
  const [marks, setMarks] = useState<Record<string, string>>({});
  const left = plan.parts.filter((p) => !found[p.code]);
  const unmarked = plan.parts.filter((p) => p.then === 'match' && found[p.code] === 'kept' && !marks[p.code]?.trim());
  return (
    <>
      <table className="t">
        <tbody>
          {plan.parts.map((p) => (
            <tr key={p.code}>
              <td>
                <b>{p.name}</b>
                <div className={p.then === 'scrap' ? 'neg' : 'dim'} style={{ fontSize: 14 }}>
                  {p.thenWhy || asks[p.then ?? 'inspect']}
                </div>
                {found[p.code] === 'kept' && p.then === 'match' && (
                  <TextInput
                    size="xs"
                    aria-label={`Mark of ${p.name}`}
                    placeholder="how it is marked, or its bag"
                    value={marks[p.code] ?? ''}
                    onChange={(e) => setMarks({ ...marks, [p.code]: e.currentTarget.value })}
                    maxLength={60}
                  />
                )}
              </td>
              <td style={{ width: 190 }}>
                <Select
                  aria-label={`What becomes of ${p.name}`}
                  placeholder="look"
                  value={found[p.code] ?? null}
                  onChange={(v) => setFound({ ...found, [p.code]: v ?? '' })}
                  data={Object.entries(words).map(([value, label]) => ({ value, label }))}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="answers">
        {left.length > 0 ? (
          <button
            type="button"
            className="btn now"
            onClick={() =>
              setFound({
                ...Object.fromEntries(plan.parts.map((p) => [p.code, usual[p.then ?? 'inspect'] ?? 'kept'])),
                ...Object.fromEntries(Object.entries(found).filter(([, v]) => v)),
              })
            }
          >
            The rest as the procedure says
          </button>
        ) : (
          <button
            type="button"
            className="btn now"
            disabled={unmarked.length > 0}
            onClick={() =>
              onAnswer({
                parts: plan.parts.map((p) => ({
                  code: p.code,
                  state: found[p.code] ?? '',
                  ...(marks[p.code]?.trim() ? { mark: marks[p.code]?.trim() } : {}),
                })),
              })
            }
          >
            {unmarked.length > 0 ? `Write down how ${unmarked[0]?.name.toLowerCase()} is marked` : 'Keep it so'}
          </button>
        )}
      </div>
    </>
  );
}
