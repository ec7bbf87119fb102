import type { Plan } from '../../api/client';
import { num, unitText } from '../../kit/numbers';
import { groupOf } from '../../rosette/GroupRosette';

/** What a plan has that document and house rules do not say: targets of its own for each bolt, and who answers for it. */
export function OwnTargets({ plan }: { plan: Plan }) {
  const pass = plan.passes.find((p) => p.own?.length);
  return (
    <>
      {plan.choices.compared && (
        <p>
          <b>Compared in the Lab:</b> {plan.choices.compared}
        </p>
      )}
      {pass?.own && (
        <table className="t own-targets">
          <caption>
            Pass {pass.number}: each has a target of its own, which makes up for what its neighbours take
          </caption>
          <thead>
            <tr>
              <th />
              <th className="n">of the target</th>
              <th className="n">set</th>
            </tr>
          </thead>
          <tbody>
            {[...pass.own]
              .sort((a, b) => a.fastener - b.fastener)
              .map((o) => (
                <tr key={o.fastener}>
                  <td>
                    {groupOf(plan, pass.group).noun || 'bolt'} {plan.chalk[o.fastener - 1]}
                  </td>
                  <td className="n">{num(o.percent, 1)} %</td>
                  <td className="n">
                    {num(o.setting, 2)} {unitText(groupOf(plan, pass.group).wrench?.unit ?? 'N_m')}
                  </td>
                </tr>
              ))}
          </tbody>
        </table>
      )}
      {plan.approved && (
        <p>
          <b>Accepted by {plan.approved.by}:</b> {plan.approved.why}
        </p>
      )}
    </>
  );
}
