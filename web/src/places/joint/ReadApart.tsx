import type { Plan, ProcedureCheck } from '../../api/client';
import { Cautions } from '../../kit/Cautions';
import { num, unitText } from '../../kit/numbers';
import { FamilyPicture } from '../../pictures/FamilyPicture';
import { GroupRosette, groupOf } from '../../rosette/GroupRosette';

const becomes: Record<string, string> = {
  scrap: 'thrown away',
  inspect: 'looked over',
  match: 'kept and marked',
  stays: 'stays',
};

/** How a joint comes apart, before the first fastener is let go: made safe, the rounds, what becomes of the parts. */
export function ReadApart({ plan }: { plan: Plan }) {
  const at = (station: string): ProcedureCheck[] => plan.checks.filter((c) => c.station === station);
  const eased = plan.groups.filter((g) => plan.passes.some((p) => p.kind === 'ease' && p.group === g.group));
  const most = [...eased].sort((a, b) => b.layout.count - a.layout.count)[0] ?? groupOf(plan, undefined);
  const first = plan.passes.find((p) => p.group === most.group);
  return (
    <div className="read apart">
      <section className="read-plan grid-bg">
        <span className="cap">
          seen from {most.layout.seenFrom || 'the tool’s side'}
          {first && first.order.length > 1 && ', order of the first round'}
        </span>
        <GroupRosette
          size={340}
          group={most}
          chalk={plan.chalk}
          order={first?.order ?? []}
          aim={1}
          up={0}
          down={0}
          planned={[...new Set(plan.passes.filter((p) => p.group === most.group).map((p) => p.percent / 100))]
            .filter((t) => t > 0)
            .sort((a, b) => a - b)
            .concat(1)}
          label={`${plan.joint.tag} comes apart: ${most.layout.count} ${most.noun || 'bolt'}s.`}
        />
        <FamilyPicture family={plan.family} />
        <span className="under">Lines across a bar: about what is left of its load after each round.</span>
      </section>
      <section>
        {plan.holds && (
          <div className="finding stop" role="note">
            <b>{plan.holds}</b> Let go a little all round: one taken out first hands its load to its neighbours.
          </div>
        )}
        <div className="rule">
          Rounds
          <span className="r">
            {plan.familyName}, procedure version {plan.procedureVersion}
          </span>
        </div>
        <table className="t passes">
          <thead>
            <tr>
              <th>Pass</th>
              <th>what</th>
              <th className="n">back</th>
              <th className="n">left, about</th>
            </tr>
          </thead>
          <tbody>
            {plan.passes.map((p) => (
              <tr key={p.number}>
                <td>{p.number}</td>
                <td>
                  {p.name}
                  <small className="dim"> {groupOf(plan, p.group).groupName?.toLowerCase()}</small>
                </td>
                <td className="n">{p.turnDeg ? `${num(p.turnDeg, 0)}°` : '–'}</td>
                <td className="n">{p.kind === 'ease' ? `${num(p.percent, 0)} %` : '–'}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {eased.map(
          (g) =>
            g.loosening && (
              <p key={g.group} className="until">
                <b>{g.groupName}:</b> went on at {num(g.loosening.wentOn ?? 0, 0)}{' '}
                {unitText(g.loosening.wentOnUnit ?? 'N_m')}; reckon with up to {num(g.loosening.torqueNm, 0)} N·m. Take{' '}
                {g.loosening.with}
                {g.loosening.pressure
                  ? `, ${num(g.loosening.pressure, 0)} ${unitText(g.loosening.unit ?? 'bar')} at most`
                  : ''}
                . {g.loosening.why}
              </p>
            ),
        )}
      </section>
      <section>
        <Cautions list={plan.cautions} />
        <div className="rule">Made safe first</div>
        <ul className="after">
          {at('ready').map((c) => (
            <li key={c.code}>
              <b>{c.title}</b>
              {c.hold && <small className="hld"> a second person signs</small>}
            </li>
          ))}
        </ul>
        <div className="rule">What becomes of the parts</div>
        <table className="t">
          <tbody>
            {plan.parts.map((p) => (
              <tr key={p.code}>
                <td>
                  <b>{p.name}</b> <small className="dim">{p.thenWhy}</small>
                </td>
                <td className={p.then === 'scrap' ? 'neg' : ''}>{becomes[p.then ?? 'inspect']}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
    </div>
  );
}
