import type { CheckState } from '../../api/client';
import { SignDialog } from '../../kit/SignDialog';
import { CheckPanel } from './CheckPanel';
import { EaseNotRight } from './Ease';
import { GroupItems } from './Ready';
import { Doubted, Held, TightenAsk } from './TightenAsk';
import { TightenDialogs } from './TightenDialogs';
import { TightenDrawing } from './TightenDrawing';
import { TightenHead } from './TightenHead';
import { TightenActNow, TightenKeys } from './TightenKeys';
import { TightenNotes } from './TightenNotes';
import { type TightenRun, useTighten, type Work } from './useTighten';

/** The tightening view: one number to set, one bolt, one press. */
export function Tighten({ run, present }: { run: TightenRun; present: boolean }) {
  const w = useTighten(run, present);
  if (!w) return <p className="empty">Read and Ready come first.</p>;
  const { s, plan, pass, hand, store } = w;
  return (
    <div className={`tw${w.prefs.leftHand ? ' left' : ''}`}>
      <TightenDrawing w={w} />
      {s.exceptions.length > 0 && <div className="exceptions">{s.exceptions.join(' · ')}</div>}
      <section className="do" ref={w.side.ref} {...w.question.guard}>
        <div className="sr" aria-live="polite">
          {s.announce}
        </div>
        <Now w={w} run={run} />
      </section>
      <TightenDialogs
        why={w.why}
        state={s}
        plan={plan}
        run={run}
        hand={hand}
        pass={pass.number}
        here={w.here}
        name={w.nameOf(w.here)}
        tools={w.tools.shown}
        device={w.device.shown}
        onHand={w.setHandIndex}
        onClose={() => w.setWhy(undefined)}
        onCloseTools={w.tools.close}
        onCloseDevice={w.device.close}
        onKeep={(e) => void w.keep(e)}
      />
      {store && <SignDialog runId={store.id} request={w.signing} onClose={() => w.setSigning(undefined)} />}
    </div>
  );
}

/** What is asked for now: a stop to lift, a check that comes first, a question, or the next pull. */
function Now({ w, run }: { w: Work; run: TightenRun }) {
  const { s, pass, hand, gate } = w;
  if (s.stoppedBy && w.live)
    return <Held text={s.stoppedBy} may={w.mayLift} onRelease={() => void w.keep({ kind: 'released' })} />;
  if (s.doubted && w.live) {
    const touched = s.deviations
      .filter((d) => d.code === 'in_doubt' && d.status === 'open')
      .map((d) => w.labelOf(d.fastener ?? 0));
    return <Doubted text={s.doubted} touched={touched} onTools={w.tools.open} />;
  }
  if (gate && w.present && w.store && !w.view?.record)
    return (
      <div className="gate">
        <div className="hd">
          <span className="b">Before {s.pass ? `pass ${s.pass}` : 'Prove'}</span>
          <span className="w">{s.pass ? pass.name : 'all passes are done'}: this comes first</span>
        </div>
        <GroupItems
          checks={w.gates}
          chosen={gate.code}
          state={(code) => s.checks.find((c) => c.code === code) as CheckState}
          onChoose={w.setGateCode}
        />
        <CheckPanel
          key={gate.code}
          check={gate}
          state={s.checks.find((c) => c.code === gate.code) as CheckState}
          run={run}
          onAnswered={() => w.setGateCode(undefined)}
          onSign={w.setSigning}
        />
      </div>
    );
  if (w.ask?.kind === 'not_right' && pass.kind === 'ease') return <EaseNotRight w={w} name={w.nameOf(w.here)} />;
  if (w.ask)
    return (
      <TightenAsk
        ask={w.ask}
        here={w.here}
        nextPosition={hand.next?.fastener}
        nameOf={w.nameOf}
        labelOf={w.labelOf}
        byTool={w.byTool}
        setting={hand.setting}
        graduation={w.tool?.graduation ?? 1}
        unit={w.unit}
        scale={hand.unit}
        movedLimit={w.movedLimit}
        onAsk={w.setAsk}
        onOverride={(p) => {
          w.setOverride(p);
          w.setAsk(undefined);
        }}
        onLoosen={() => w.setWhy('loosen')}
        onHold={() => w.setWhy('hold')}
        onPull={w.pull}
        onKeep={(e) => void w.keep(e, true)}
      />
    );
  return (
    <>
      <TightenHead w={w} />
      <TightenNotes w={w} />
      <TightenActNow w={w} />
      <TightenKeys w={w} />
    </>
  );
}
