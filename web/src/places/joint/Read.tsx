import { Modal } from '@mantine/core';
import { api, must } from '../../api/client';
import { num } from '../../kit/numbers';
import { SpecificationForm } from '../joints/SpecificationForm';
import { ApprovePlan } from './ApprovePlan';
import { ByShift } from './ByShift';
import { ComparePlan } from './ComparePlan';
import { endsText } from './GroupTable';
import { OwnTargets } from './OwnTargets';
import { PassList } from './PassList';
import { ReadChoices } from './ReadChoices';
import { ReadDemand } from './ReadDemand';
import { ReadPlan } from './ReadPlan';
import { ReadTorque } from './ReadTorque';
import { type Reading, type ReadProps, useRead } from './useRead';

/** What the document demands, beside the plan made from it. Changing a choice re-plans at once. */
export function Read(props: ReadProps) {
  const r = useRead(props);
  const { joint, spec, family, tag } = r;
  const { bench } = props;
  return (
    <div className="read">
      <ReadPlan r={r} />
      <ReadDemand r={r} />
      <ReadDo r={r} />
      <ApprovePlan
        opened={r.approving.shown}
        onClose={r.approving.close}
        plan={r.plan}
        busy={r.busy}
        wrong={r.wrong}
        engineer={r.engineer}
        onDone={r.begin}
      />
      <ComparePlan change={r.change.shown} busy={r.busy} onBack={r.change.close} onTake={r.change.take} />
      {joint && spec && family && (
        <Modal
          opened={r.editing.shown}
          onClose={r.editing.close}
          title={`New version of the specification, ${tag}`}
          size="xl"
        >
          <SpecificationForm
            family={family}
            start={
              bench
                ? {
                    ...spec,
                    page: `Bench: ${bench.from}`,
                    groups: spec.groups.map((f, i) =>
                      i > 0
                        ? f
                        : {
                            ...f,
                            target: {
                              form: 'torque',
                              nominal: bench.torque,
                              minusPct: f.target.minusPct,
                              plusPct: f.target.plusPct,
                              unit: 'N_m',
                            },
                          },
                    ),
                  }
                : spec
            }
            verb="Keep as a new version"
            askReason
            onDone={async (s, reason) => {
              await must(
                api.POST('/joints/{tag}/specifications', {
                  params: { path: { tag } },
                  body: { specification: s, reason },
                }),
              );
              props.onChanged();
              r.editing.close();
            }}
          />
        </Modal>
      )}
    </div>
  );
}

/** The plan, what may be chosen in it, and the way to begin. */
function ReadDo({ r }: { r: Reading }) {
  const { plan, group: g, problem, wrong, changed, begun, pulled, ready, busy } = r;
  return (
    <section className="read-do">
      <div className="rule">
        The plan
        {plan?.familyName && (
          <span className="r">
            {plan.familyName}, procedure version {plan.procedureVersion}
          </span>
        )}
      </div>
      {plan && g && g.finalNm > 0 && (
        <>
          <ReadTorque r={r} plan={plan} g={g} />
          <ReadChoices r={r} plan={plan} g={g} />
          <ByShift r={r} />
        </>
      )}
      {plan && g && !(g.finalNm > 0) && plan.passes.length > 0 && (
        <p className="until">
          <b>{g.groupName}:</b> {endsText(g)} {g.endsWhy}
        </p>
      )}
      {plan && plan.passes.length > 0 && (
        <>
          <PassList r={r} plan={plan} />
          <OwnTargets plan={plan} />
          <p className="dim">About {num(plan.minutes, 0)} min at the joint.</p>
        </>
      )}
      {problem && <p className="wrong">{problem}</p>}
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
      {plan && plan.needsApproval.length > 0 && (
        <div className="finding caution">
          <b>An engineer must approve</b>
          {plan.needsApproval.map((t) => (
            <div key={t}>{t}</div>
          ))}
        </div>
      )}
      <div className="row-btns end read-acts">
        {changed && (
          <button type="button" className="btn" onClick={() => r.setChoices({})}>
            Back to {begun ? 'the plan in use' : 'house rules'}
          </button>
        )}
        {!begun && !r.joint?.retired && (
          <button
            type="button"
            className="btn now"
            style={{ flex: 1, height: 60, fontSize: 19 }}
            disabled={!ready || busy}
            onClick={r.press}
          >
            Read it, then Ready <kbd>Enter</kbd>
          </button>
        )}
        {begun && changed && !pulled && (
          <button
            type="button"
            className="btn now"
            style={{ flex: 1, height: 60, fontSize: 19 }}
            disabled={!ready || busy}
            onClick={r.press}
          >
            Take this plan over
          </button>
        )}
      </div>
      {begun && pulled && <p className="dim">Bolts have been pulled on this plan, so it can no longer change.</p>}
    </section>
  );
}
