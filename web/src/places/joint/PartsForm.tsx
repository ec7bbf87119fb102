import { Select, TextInput } from '@mantine/core';
import { useState } from 'react';
import type { Plan, RunEvent } from '../../api/client';
import { demandOf, firstDemand } from '../../kit/demand';
import { num } from '../../kit/numbers';
import { groupOf } from '../../rosette/GroupRosette';

export const partStates = ['present', 'missing', 'rejected', 'substituted'];

export function PartsForm({ plan, onAnswer }: { plan: Plan; onAnswer: (e: Partial<RunEvent>) => void }) {
  const [found, setFound] = useState<Record<string, string>>({});
  const [marks, setMarks] = useState<Record<string, string>>({});
  const quantity = (p: Plan['parts'][number]) =>
    p.perBolt ? p.quantity * groupOf(plan, p.fasteners).layout.count : p.quantity;
  const name = (p: Plan['parts'][number]) => {
    const s = plan.specification;
    if (p.code === 'gasket') return s.gasket ? `${p.name} ${s.gasket}` : p.name;
    if (!p.perBolt) return p.name;
    const f = demandOf(s, p.fasteners, false) ?? firstDemand(s);
    const thread = f.thread ? ` ${f.thread}` : '';
    return p.code === 'bolt'
      ? `${p.name}${thread} ${f.material}${f.lengthMm ? ` × ${num(f.lengthMm)}` : ''}`
      : `${p.name}${thread}`;
  };
  const missing = plan.parts.filter((p) => !found[p.code]);
  return (
    <>
      <table className="t">
        <tbody>
          {plan.parts.map((p) => (
            <tr key={p.code}>
              <td>
                <b>{name(p)}</b>
                <div className="dim" style={{ fontSize: 14 }}>
                  {p.function}
                  {p.match ? `; compare ${p.match}` : ''}
                </div>
                {p.mark && (
                  <TextInput
                    size="xs"
                    aria-label={`Number of ${p.name}`}
                    placeholder="stamped number or batch"
                    value={marks[p.code] ?? ''}
                    onChange={(e) => setMarks({ ...marks, [p.code]: e.currentTarget.value })}
                    maxLength={60}
                  />
                )}
              </td>
              <td className="n">{num(quantity(p))}</td>
              <td style={{ width: 150 }}>
                <Select
                  aria-label={`${p.name} found`}
                  placeholder="look"
                  value={found[p.code] ?? null}
                  onChange={(v) => setFound({ ...found, [p.code]: v ?? '' })}
                  data={partStates}
                />
              </td>
            </tr>
          ))}
          {(plan.otherParts ?? []).map((p) => (
            <tr key={p.code}>
              <td>
                {p.name}
                <div className="hld" style={{ fontSize: 14 }}>
                  belongs to another variant: must not be here
                </div>
              </td>
              <td />
              <td>
                <Select
                  aria-label={`${p.name} of another variant`}
                  placeholder="not here"
                  clearable
                  value={found[p.code] ?? null}
                  onChange={(v) => setFound({ ...found, [p.code]: v ?? '' })}
                  data={[{ value: 'present', label: 'lies here' }]}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="answers">
        {missing.length > 0 ? (
          <button
            type="button"
            className="btn now"
            onClick={() =>
              setFound({ ...found, ...Object.fromEntries(plan.parts.map((p) => [p.code, found[p.code] || 'present'])) })
            }
          >
            The rest is present
          </button>
        ) : (
          <button
            type="button"
            className="btn now"
            onClick={() =>
              onAnswer({
                parts: [...plan.parts, ...(plan.otherParts ?? [])]
                  .filter((p) => found[p.code])
                  .map((p) => ({
                    code: p.code,
                    state: found[p.code] ?? '',
                    ...(marks[p.code] ? { mark: marks[p.code] } : {}),
                  })),
              })
            }
          >
            Keep the list
          </button>
        )}
      </div>
    </>
  );
}
