import { useState } from 'react';
import type { PassState, RunEvent, RunState } from '../../api/client';
import { NotAFigure } from '../../kit/Figure';
import { useTyped } from '../../kit/figures';
import { num, unitText } from '../../kit/numbers';
import { doneWord, type Hand, isPressure } from './hand';

export interface ActsProps {
  hand: Hand;
  pass: PassState;
  done: NonNullable<RunState['done']>;
  mark: string | undefined;
  label: string | undefined; // of the fastener at hand: 7, A3
  checkPass: boolean;
  cleared: boolean; // arm bears, hands clear: said for this fastener
  reaction: RunState['reaction'];
  rest: number; // fasteners of a pass by hand that one press can keep
  onAct: () => void;
  onRest: () => void;
  onConfirm: (change?: Partial<RunEvent>) => void;
  onPull: (change: Partial<RunEvent>, sure?: boolean) => void;
  onSkip: () => void;
  onNotRight: () => void;
  onMoved: () => void;
}

/** The field of a reading, and over it what is wrong with it, where it is seen. */
function ReadingField({ label, field }: { label: string; field: ReturnType<typeof useTyped> }) {
  return (
    <>
      <NotAFigure wrong={field.wrong} choices={field.choices} onChoose={field.setText} />
      <label>
        {label}
        <input inputMode="decimal" value={field.text} onChange={(e) => field.setText(e.target.value)} />
      </label>
    </>
  );
}

/** A torque that is set on a scale. Another number than the asked one can be read back: it is judged, the other scale too. */
export function ScaleSet({ hand, onAct, onConfirm }: ActsProps) {
  const [other, setOther] = useState(false);
  const field = useTyped(hand.unit, String(other));
  const v = field.figure;
  if (other) {
    return (
      <form
        className="acts reads"
        onSubmit={(e) => {
          e.preventDefault();
          if (v !== undefined) onConfirm({ setting: v });
        }}
      >
        <NotAFigure wrong={field.wrong} choices={field.choices} onChoose={field.setText} />
        <label>
          It stands at, {unitText(hand.unit)}
          {/* biome-ignore lint/a11y/noAutofocus: the person has just asked for this field */}
          <input inputMode="decimal" autoFocus value={field.text} onChange={(e) => field.setText(e.target.value)} />
        </label>
        <button type="submit" className="btn now" disabled={v === undefined}>
          Keep it
        </button>
        <button type="button" className="btn" onClick={() => setOther(false)}>
          Back
        </button>
      </form>
    );
  }
  return (
    <div className="acts set">
      <button type="button" className="btn now" onClick={onAct}>
        Set to {num(hand.setting)}
        {hand.tool?.kind === 'click' ? ', locked, grip does not move' : ` ${unitText(hand.unit)}`} <kbd>Space</kbd>
      </button>
      <button type="button" className="btn" onClick={() => setOther(true)}>
        Another number
      </button>
    </div>
  );
}

/** A pressure is set with the tool off the nut, step by step, and read a second time after another stroke. */
export function PressureSet({ hand, onConfirm }: ActsProps) {
  const field = useTyped(hand.unit);
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        if (field.reading) onConfirm({ reading: field.reading });
      }}
    >
      <ol className="routine">
        {hand.group.setting?.map((x) => (
          <li key={x}>{x}</li>
        ))}
      </ol>
      <div className="acts reads">
        <ReadingField label={`Second reading, ${unitText(hand.unit)}`} field={field} />
        <button type="submit" className="btn now" disabled={!field.reading}>
          {num(hand.setting)} set, read twice
        </button>
      </div>
    </form>
  );
}

/** A tool that shows the torque: what it showed belongs to the pull, typed when the tool does not send it. */
export function Read({ hand, label, checkPass, onPull, others }: WithOthers) {
  const field = useTyped(hand.unit, label); // the next bolt begins with an empty field
  return (
    <form
      className="acts reads four"
      onSubmit={(e) => {
        e.preventDefault();
        if (field.reading) onPull({ reading: field.reading });
      }}
    >
      <ReadingField label={`${label} read, ${unitText(hand.unit)}`} field={field} />
      <button type="submit" className="btn now" disabled={!field.reading}>
        {label} {checkPass ? 'stayed' : 'read'}
      </button>
      {others}
    </form>
  );
}

export type WithOthers = ActsProps & { label: string; others: React.ReactNode };

/** What decides here is measured: an effort, or how much longer a bolt has become. */
export function MeasuredAct({ pass, label, onPull, others }: WithOthers) {
  const tries = pass.tries?.length ?? 0;
  const unit = pass.kind === 'stretch' ? 'mm' : 'N_m';
  const field = useTyped(unit, `${label} ${tries}`); // each attempt begins with an empty field
  return (
    <>
      {tries > 0 && (
        <p className="tries">
          <b>Tries</b> <span className="m">{(pass.tries ?? []).map((x) => num(x, 1)).join(' → ')}</span> N·m, window{' '}
          {num(pass.lowNm ?? 0, 1)} to {num(pass.highNm ?? 0, 1)}
        </p>
      )}
      <form
        className="acts reads four"
        onSubmit={(e) => {
          e.preventDefault();
          if (field.reading) onPull({ reading: field.reading });
        }}
      >
        <ReadingField
          label={`${pass.kind === 'stretch' ? 'Longer by' : 'Effort to turn'}, ${unitText(unit)}`}
          field={field}
        />
        <button type="submit" className="btn now" disabled={!field.reading}>
          {label} measured
        </button>
        {others}
      </form>
    </>
  );
}

/** Let go on purpose; where it let go is kept when a gauge shows it. */
export function UndoneAct({ hand, label, onAct, onPull, others }: WithOthers) {
  const unit = hand.group.wrench?.unit ?? '';
  const field = useTyped(unit, label); // the next one begins with an empty field
  if (!isPressure(unit))
    return (
      <div className="acts">
        <button type="button" className="btn now" onClick={onAct}>
          {label} undone <kbd>Space</kbd>
        </button>
        {others}
      </div>
    );
  return (
    <form
      className="acts reads four"
      onSubmit={(e) => {
        e.preventDefault();
        onPull(field.reading ? { reading: field.reading } : {});
      }}
    >
      <ReadingField label={`Let go at, ${unitText(unit)}`} field={field} />
      <button type="submit" className="btn now" disabled={!!field.wrong}>
        {label} undone
      </button>
      {others}
    </form>
  );
}

/** A turn on each in turn: it either turned all the way, or the wrench clicked before. */
export function TurnsAct({ pass, label, done, onAct, onPull, others }: WithOthers) {
  return (
    <div className="acts four">
      <button
        type="button"
        className="btn now"
        onClick={() => onPull({ outcome: 'turned', turnedDeg: pass.turnDeg ?? 0 })}
      >
        {label} turned, no click
      </button>
      <button type="button" className="btn" onClick={onAct}>
        {label} {doneWord[done]} <kbd>Space</kbd>
      </button>
      {others}
    </div>
  );
}
