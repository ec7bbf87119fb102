import { useEffect, useState } from 'react';
import type { Plan, RunEvent, RunState } from '../../api/client';
import { num, unitText } from '../../kit/numbers';
import { doneWord, type Hand, isPressure } from './hand';

interface ActsProps {
  plan: Plan;
  hand: Hand;
  done: NonNullable<RunState['done']>;
  mark: string | undefined;
  number: number | undefined;
  checkPass: boolean;
  cleared: boolean; // arm bears, hands clear: said for this fastener
  reaction: RunState['reaction'];
  onAct: () => void;
  onConfirm: (change?: Partial<RunEvent>) => void;
  onPull: (change: Partial<RunEvent>, sure?: boolean) => void;
  onSkip: () => void;
  onNotRight: () => void;
  onMoved: () => void;
}

const parsed = (text: string) => {
  const v = Number(text.replace(',', '.'));
  return text.trim() !== '' && Number.isFinite(v) ? v : undefined;
};

/** The big buttons: set it, keep clear, keep the pull. One of them is the act of the moment. */
export function TightenActs(p: ActsProps) {
  const { hand, number } = p;
  const pressure = isPressure(hand.unit);
  if (hand.confirm) return pressure ? <PressureSet {...p} /> : <ScaleSet {...p} />;
  if (!number) return null;
  if (p.mark === 'over') {
    return (
      <div className="acts">
        <button type="button" className="btn now" onClick={p.onAct}>
          {number} loosened <kbd>Space</kbd>
        </button>
        <button type="button" className="btn" onClick={() => p.onPull({ outcome: 'replaced', reason: 'pulled too far' }, true)}>
          Replaced
        </button>
        <button type="button" className="btn" onClick={p.onSkip}>
          Later <kbd>S</kbd>
        </button>
      </div>
    );
  }
  if (p.plan.clear && !p.cleared) {
    return (
      <div className="acts">
        <button type="button" className="btn now" onClick={p.onAct}>
          <span>
            {p.plan.clear}
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
  if (p.done === 'reached') return <Read {...p} number={number} others={others} />;
  return (
    <div className={`acts${p.checkPass ? ' check' : ''}`}>
      <button type="button" className="btn now" onClick={p.onAct}>
        {number} {p.checkPass ? 'stayed' : doneWord[p.done]} <kbd>Space</kbd>
      </button>
      {others}
    </div>
  );
}

/** A torque that is set on a scale. Another number than the asked one can be read back: it is judged, the other scale too. */
function ScaleSet({ hand, onAct, onConfirm }: ActsProps) {
  const [other, setOther] = useState<string>();
  const v = other === undefined ? undefined : parsed(other);
  if (other !== undefined) {
    return (
      <form
        className="acts reads"
        onSubmit={(e) => {
          e.preventDefault();
          if (v !== undefined) onConfirm({ setting: v });
        }}
      >
        <label>
          It stands at, {unitText(hand.unit)}
          {/* biome-ignore lint/a11y/noAutofocus: the person has just asked for this field */}
          <input inputMode="decimal" autoFocus value={other} onChange={(e) => setOther(e.target.value)} />
        </label>
        <button type="submit" className="btn now" disabled={v === undefined}>
          Keep it
        </button>
        <button type="button" className="btn" onClick={() => setOther(undefined)}>
          Back
        </button>
      </form>
    );
  }
  return (
    <div className="acts set">
      <button type="button" className="btn now" onClick={onAct}>
        Set to {num(hand.setting)} {hand.tool?.kind === 'click' ? ', locked, grip does not move' : unitText(hand.unit)} <kbd>Space</kbd>
      </button>
      <button type="button" className="btn" onClick={() => setOther('')}>
        Another number
      </button>
    </div>
  );
}

/** A pressure is set with the tool off the nut, step by step, and read a second time after another stroke. */
function PressureSet({ plan, hand, onConfirm }: ActsProps) {
  const [text, setText] = useState('');
  const v = parsed(text);
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        if (v !== undefined) onConfirm({ reading: { value: v, unit: hand.unit, si: 0, text: `${num(v)} ${unitText(hand.unit)}` } });
      }}
    >
      <ol className="routine">
        {plan.setting?.map((x) => (
          <li key={x}>{x}</li>
        ))}
      </ol>
      <div className="acts reads">
        <label>
          Second reading, {unitText(hand.unit)}
          <input inputMode="decimal" value={text} onChange={(e) => setText(e.target.value)} />
        </label>
        <button type="submit" className="btn now" disabled={v === undefined}>
          {num(hand.setting)} set, read twice
        </button>
      </div>
    </form>
  );
}

/** A tool that shows the torque: what it showed belongs to the pull, typed when the tool does not send it. */
function Read({ hand, number, checkPass, onPull, others }: ActsProps & { number: number; others: React.ReactNode }) {
  const [text, setText] = useState('');
  // biome-ignore lint/correctness/useExhaustiveDependencies: the next bolt begins with an empty field
  useEffect(() => setText(''), [number]);
  const v = parsed(text);
  return (
    <form
      className="acts reads four"
      onSubmit={(e) => {
        e.preventDefault();
        if (v !== undefined) onPull({ reading: { value: v, unit: hand.unit, si: 0, text: `${num(v)} ${unitText(hand.unit)}` } });
      }}
    >
      <label>
        {number} read, {unitText(hand.unit)}
        <input inputMode="decimal" value={text} onChange={(e) => setText(e.target.value)} />
      </label>
      <button type="submit" className="btn now" disabled={v === undefined}>
        {number} {checkPass ? 'stayed' : 'read'}
      </button>
      {others}
    </form>
  );
}
