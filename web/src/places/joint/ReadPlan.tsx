import { num } from '../../kit/numbers';
import { FamilyPicture } from '../../pictures/FamilyPicture';
import { GroupRosette, GroupStrip } from '../../rosette/GroupRosette';
import { Expected } from '../lab/Expected';
import type { Reading } from './useRead';

/** The joint as planned: stages as rings, the order as numbers. */
export function ReadPlan({ r }: { r: Reading }) {
  const { plan, group: g, several, stages, order, tag, problem } = r;
  return (
    <section className="read-plan grid-bg">
      {plan && g && plan.passes.length > 0 ? (
        <>
          <span className="cap">
            {several && <b>{g.groupName}, </b>}seen from {g.layout.seenFrom || 'the tool’s side'}
            {!g.layout.kind && ', bolt 1 right of the top'}
          </span>
          <GroupRosette
            size={several ? 340 : 384}
            group={g}
            chalk={plan.chalk}
            label={`${tag} as planned: ${g.layout.count} ${g.noun || 'bolt'}s, order ${order.join(', ')}`}
            planned={stages.length ? stages.map((p) => (g.finalNm ? p.torqueNm / g.finalNm : p.percent / 100)) : [1]}
            order={order}
            tMax={1.1}
            scale={stages.map((p) => ({
              t: g.finalNm ? p.torqueNm / g.finalNm : p.percent / 100,
              text: num(p.torqueNm, 0),
            }))}
          />
          <p className="under">
            {order.length > 1 && (
              <>
                order: <span className="m">{order.map((p) => plan.chalk[p - 1]).join(' ')}</span>
                <br />
              </>
            )}
            {stages.length > 0 && 'torque at the nut, N·m'}
            {g.layout.diameterMm ? ` · bolt circle ${num(g.layout.diameterMm)} mm` : ''}
          </p>
          {!several && !g.layout.kind && <Expected tag={tag} key={tag} />}
          <GroupStrip plan={plan} fasteners={undefined} present={g.group} onChoose={r.setShown} />
          <FamilyPicture family={plan.family} />
        </>
      ) : (
        <div className="empty">
          <svg width="120" height="120" viewBox="-60 -60 120 120" aria-hidden="true">
            <circle r="52" style={{ fill: 'none', stroke: 'var(--ink-3)', strokeWidth: 1.5, strokeDasharray: '6 5' }} />
          </svg>
          <span>No plan yet. {plan?.toBeSupplied[0] ?? problem}</span>
        </div>
      )}
    </section>
  );
}
