import type { Plan } from '../../api/client';
import { choicesOf } from '../../kit/choices';
import { num, unitText } from '../../kit/numbers';
import { firstOf, groupOf } from '../../rosette/GroupRosette';
import { orderWord } from './orders';
import type { Reading } from './useRead';

/** The passes of a plan, one a line. */
export function PassList({ r, plan }: { r: Reading; plan: Plan }) {
  const { several, group: g } = r;
  const orderOf = (p: Plan['passes'][number]) => orderWord(p.pattern, choicesOf(plan, groupOf(plan, p.group)).sectors);
  return (
    <table className="t passes">
      <thead>
        <tr>
          <th>Pass</th>
          <th className="n">at the nut</th>
          <th className="n">{several ? 'set' : `set on ${firstOf(plan).wrench?.tag ?? 'wrench'}`}</th>
          {!several && <th>order</th>}
        </tr>
      </thead>
      <tbody>
        {plan.passes.map((p) => (
          <tr key={p.number} title={p.why} className={several && p.group === g?.group ? 'cur' : ''}>
            <td>
              {p.number} &nbsp;{p.kind === 'check' ? 'round, till none turns' : p.name}
              {several && (
                <small className="dim">
                  {' '}
                  {groupOf(plan, p.group).groupName?.toLowerCase()}, {orderOf(p)}
                </small>
              )}
            </td>
            <td className="n">
              {p.torqueNm
                ? num(p.torqueNm, p.torqueNm < 10 ? 1 : 0)
                : p.lowNm
                  ? `${num(p.lowNm, 1)}–${num(p.highNm ?? 0, 1)}`
                  : '–'}
            </td>
            <td className="n">
              {p.own?.length
                ? 'each its own'
                : p.setting
                  ? `${num(p.setting, 2)} ${unitText(groupOf(plan, p.group).wrench?.unit ?? 'N_m')}`
                  : p.turnDeg
                    ? `${num(p.turnDeg, 0)}°`
                    : '–'}
            </td>
            {!several && <td>{p.order.length > 1 ? orderOf(p) : ''}</td>}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
