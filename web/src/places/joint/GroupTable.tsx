import type { FastenerGroup, Fasteners, Plan } from '../../api/client';
import { demandOf } from '../../kit/demand';
import { num, unitText } from '../../kit/numbers';

/** A target as the document states it. */
export function targetText(t: Fasteners['target']): string {
  switch (t.form) {
    case 'torque':
      return `${num(t.nominal ?? 0)} ${unitText(t.unit ?? 'N_m')} −${num(t.minusPct ?? 0)} % +${num(t.plusPct ?? 0)} %`;
    case 'range':
      return `${num(t.min ?? 0)} to ${num(t.max ?? 0)} ${unitText(t.unit ?? 'N_m')}`;
    case 'stress':
      return `${num(t.stressMPa ?? 0)} MPa in the bolt`;
    case 'percent_yield':
      return `${num(t.percent ?? 0)} % of the bolt's yield`;
    case 'lookup':
      return `table ${t.table}, line ${(t.keys ?? []).join(', ')}`;
    case 'turns':
      return `${num(t.turnDeg ?? 0, 0)}° from its mark`;
    case 'stretch':
      return `${num(t.stretchMm ?? 0, 3)} mm longer`;
    case 'stated':
      return 'as the procedure says';
  }
  return 'to be supplied';
}

const ends: Record<string, string> = {
  turns: 'Ends at a turn, not at a torque.',
  snug: 'Snug only.',
  hand: 'Hand-tight.',
  shape: 'Until a shape is reached; no torque decides.',
  effort: 'Until the effort to turn lies in its window.',
  stretch: 'Until the bolt is so much longer.',
  none: 'Must not be torqued.',
};

/** What a group ends at when it is no torque. */
export const endsText = (g: FastenerGroup) => ends[g.endsAt ?? ''] ?? '';

/** Every group of a joint with what the document demands of it. */
export function GroupTable({
  plan,
  shown,
  onChoose,
}: {
  plan: Plan;
  shown: string | undefined;
  onChoose: (code: string) => void;
}) {
  return (
    <tbody className="group-rows">
      {plan.groups.map((g, i) => {
        const f = demandOf(plan.specification, g.group, i === 0);
        const torque = !g.endsAt || g.endsAt === 'torque';
        return (
          <tr key={g.group} className={g.group === shown ? 'cur' : ''}>
            <td>
              <button type="button" className="code" onClick={() => onChoose(g.group ?? '')}>
                {g.groupName}
              </button>
            </td>
            <td>
              {g.layout.count} × {f?.thread ? `${f.thread} ${f.material}` : (g.noun ?? 'bolt')}
              <br />
              <b>{torque ? (f ? targetText(f.target) : 'as the first group') : endsText(g)}</b>
              {g.table && <div className="dim">{g.table.source}</div>}
            </td>
          </tr>
        );
      })}
    </tbody>
  );
}
