import type { FastenerGroup, Plan } from '../../api/client';
import { SpreadRuler } from '../../kit/LimitRuler';
import { besideTorque, num } from '../../kit/numbers';
import { WorkingSheet } from '../../kit/Working';
import type { Reading } from './useRead';

/** The torque at the nut, what it gives in the bolt, and the working. */
export function ReadTorque({ r, plan, g }: { r: Reading; plan: Plan; g: FastenerGroup }) {
  const working = r.working.shown;
  return (
    <>
      <div className="tq">
        <b className="m">{num(g.finalNm, g.finalNm < 10 ? 1 : 0)}</b>
        <span>
          N·m at the nut
          <small>
            {besideTorque(g.finalNm, plan.houseRules)}
            {g.preloadKN > 0 && ` gives ${num(g.preloadKN, 0)} kN in each ${g.noun || 'bolt'}`}
          </small>
        </span>
        <button type="button" className="btn sm" onClick={r.working.toggle} aria-expanded={working}>
          {working ? 'close working' : 'show the working'}
        </button>
      </div>
      {working ? (
        <WorkingSheet
          workings={
            r.several
              ? plan.workings.filter((w) => !w.title.includes(' · ') || w.title.endsWith(` · ${g.groupName}`))
              : plan.workings
          }
        />
      ) : g.preloadKN > 0 ? (
        <>
          <SpreadRuler
            name="In each bolt"
            text={`${num(g.preloadKN, 0)} kN, ${num(g.preloadMinKN, 0)} to ${num(g.preloadMaxKN, 0)}`}
            low={g.stressMinMPa}
            high={g.stressMaxMPa}
            value={g.stressMPa}
            band={[
              (plan.houseRules.minYieldPct / 100) * g.strength.yieldMPa,
              (plan.houseRules.maxYieldPct / 100) * g.strength.yieldMPa,
            ]}
            end={g.strength.yieldMPa}
            marks={[
              [(plan.houseRules.minYieldPct / 100) * g.strength.yieldMPa, `${num(plan.houseRules.minYieldPct)} %`],
              [
                (plan.houseRules.maxYieldPct / 100) * g.strength.yieldMPa,
                `${num(plan.houseRules.maxYieldPct)} % of yield`,
              ],
              [g.strength.yieldMPa, `yield ${num(g.strength.yieldMPa, 0)}`],
            ]}
          />
          <p className="dim" style={{ fontSize: 14 }}>
            {num(g.stressMPa, 0)} MPa in the bolt, {num(g.yieldPct, 0)} % of yield; thick bar: the spread.
          </p>
        </>
      ) : null}
    </>
  );
}
