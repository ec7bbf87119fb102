import type { Plan } from '../../api/client';
import { num } from '../../kit/numbers';
import { groupOf } from '../../rosette/GroupRosette';

/** Everything that belongs at the joint before the work begins, kind by kind; each is ticked. */
export function toBring(plan: Plan): { kind: string; items: string[] }[] {
  const count = (p: Plan['parts'][number]) =>
    p.perBolt ? p.quantity * groupOf(plan, p.fasteners).layout.count : p.quantity;
  const line = (p: Plan['parts'][number], n: number) => `${num(n)} × ${p.name}`;
  const tools = [
    ...new Set(plan.groups.flatMap((g) => (g.setUp?.string ?? (g.wrench ? [g.wrench] : [])).map((t) => t.tag))),
    ...(plan.otherTools ?? []),
  ];
  return [
    { kind: 'Parts', items: plan.way === 'apart' ? [] : plan.parts.map((p) => line(p, count(p))) },
    {
      kind: 'Spares',
      items: plan.way === 'apart' ? [] : plan.parts.flatMap((p) => (p.spare ? [line(p, p.spare)] : [])),
    },
    { kind: 'Consumables', items: (plan.supplies ?? []).map((p) => line(p, p.quantity)) },
    { kind: 'Tools', items: tools },
  ].filter((g) => g.items.length > 0);
}

export function ToBring({ plan, ticked, onTick }: { plan: Plan; ticked: string[]; onTick: (items: string[]) => void }) {
  const groups = toBring(plan);
  const all = groups.flatMap((g) => g.items.map((x) => `${g.kind}: ${x}`));
  if (all.length === 0) return null;
  return (
    <details className="to-bring" open={ticked.length > 0 || undefined}>
      <summary>
        To hand: {ticked.length} of {all.length}
      </summary>
      {groups.map((g) => (
        <fieldset key={g.kind}>
          <legend>{g.kind}</legend>
          {g.items.map((x) => {
            const code = `${g.kind}: ${x}`;
            return (
              <label key={code}>
                <input
                  type="checkbox"
                  checked={ticked.includes(code)}
                  onChange={(e) => onTick(e.target.checked ? [...ticked, code] : ticked.filter((t) => t !== code))}
                />
                {x}
              </label>
            );
          })}
        </fieldset>
      ))}
      {ticked.length < all.length && (
        <button type="button" className="btn sm" onClick={() => onTick(all)}>
          All of it is here
        </button>
      )}
    </details>
  );
}
