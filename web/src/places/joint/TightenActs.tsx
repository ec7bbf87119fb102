import { num } from '../../kit/numbers';
import { doneWord, isPressure } from './hand';
import { type ActsProps, MeasuredAct, PressureSet, Read, ScaleSet, TurnsAct, UndoneAct } from './TightenReads';

/** The big buttons: set it, keep clear, keep the pull. One of them is the act of the moment. */
export function TightenActs(p: ActsProps) {
  const { hand, label } = p;
  const pressure = isPressure(hand.unit);
  if (hand.confirm) return pressure ? <PressureSet {...p} /> : <ScaleSet {...p} />;
  if (!label) return null;
  if (p.mark === 'over') {
    return (
      <div className="acts">
        <button type="button" className="btn now" onClick={p.onAct}>
          {label} loosened <kbd>Space</kbd>
        </button>
        <button
          type="button"
          className="btn"
          onClick={() => p.onPull({ outcome: 'replaced', reason: 'pulled too far' }, true)}
        >
          Replaced
        </button>
        <button type="button" className="btn" onClick={p.onSkip}>
          Later <kbd>S</kbd>
        </button>
      </div>
    );
  }
  if (hand.group.clear && p.pass.setting > 0 && !p.cleared) {
    return (
      <div className="acts">
        <button type="button" className="btn now" onClick={p.onAct}>
          <span>
            {hand.group.clear}
            {p.reaction && <small>{num(p.reaction.forceN / 1000, 1)} kN: drive side, solid support</small>}
          </span>{' '}
          <kbd>Space</kbd>
        </button>
        <button type="button" className="btn" onClick={p.onSkip}>
          Skip <kbd>S</kbd>
        </button>
        <button type="button" className="btn" onClick={p.onNotRight}>
          Not right <kbd>N</kbd>
        </button>
      </div>
    );
  }
  const others = (
    <>
      {p.checkPass ? (
        <button type="button" className="btn" onClick={p.onMoved}>
          Still turned
        </button>
      ) : (
        <button type="button" className="btn" onClick={p.onSkip}>
          Skip <kbd>S</kbd>
        </button>
      )}
      <button type="button" className="btn" onClick={p.onNotRight}>
        Not right <kbd>N</kbd>
      </button>
    </>
  );
  if (p.done === 'reached') return <Read {...p} label={label} others={others} />;
  if (p.done === 'measured') return <MeasuredAct {...p} label={label} others={others} />;
  if (p.done === 'undone') return <UndoneAct {...p} label={label} others={others} />;
  if (p.pass.kind === 'turns') return <TurnsAct {...p} label={label} others={others} />;
  return (
    <div className={`acts${p.checkPass ? ' check' : ''}`}>
      <button type="button" className="btn now" onClick={p.onAct}>
        {label} {p.checkPass ? 'stayed' : doneWord[p.done]} <kbd>Space</kbd>
      </button>
      {p.rest > 1 && (
        <button type="button" className="btn" onClick={p.onRest}>
          All {p.rest} by hand <kbd>R</kbd>
        </button>
      )}
      {others}
    </div>
  );
}
