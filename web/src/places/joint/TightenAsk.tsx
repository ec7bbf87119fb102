import type { Finding, RunEvent } from '../../api/client';
import { NotAFigure } from '../../kit/Figure';
import { Findings } from '../../kit/Findings';
import { useTyped } from '../../kit/figures';
import { num } from '../../kit/numbers';
import { NotRight } from './NotRight';

/** What is asked instead of the next fastener. */
export type Ask =
  | { kind: 'order'; position: number }
  | { kind: 'done'; position: number }
  | { kind: 'findings'; event: RunEvent; findings: Finding[] }
  | { kind: 'not_right' }
  | { kind: 'moved' };

interface AskProps {
  ask: Ask;
  here: number | undefined;
  nextPosition: number | undefined;
  nameOf: (p: number | undefined) => string; // bolt 7
  labelOf: (p: number | undefined) => string; // 7
  byTool: boolean;
  setting: number;
  graduation: number;
  unit: string; // as written
  scale: string; // its code
  movedLimit: number;
  onAsk: (a: Ask | undefined) => void;
  onOverride: (position: number) => void;
  onLoosen: () => void;
  onHold: () => void;
  onPull: (e: Partial<RunEvent>, sure?: boolean) => void;
  onKeep: (e: RunEvent) => void;
}

/** Questions that stand in the place of the next fastener until they are answered; nothing floats over the work. */
export function TightenAsk({
  ask,
  here,
  nextPosition,
  nameOf,
  labelOf,
  byTool,
  setting,
  graduation,
  unit,
  scale,
  movedLimit,
  onAsk,
  onOverride,
  onLoosen,
  onHold,
  onPull,
  onKeep,
}: AskProps) {
  const back = () => onAsk(undefined);
  switch (ask.kind) {
    case 'not_right':
      return (
        <NotRight
          name={nameOf(here)}
          label={labelOf(here)}
          byTool={byTool}
          setting={setting}
          graduation={graduation}
          unit={unit}
          scale={scale}
          onBack={back}
          onPull={(e) => onPull(e, true)}
          onWrongBolt={back}
          onHold={() => {
            back();
            onHold();
          }}
        />
      );
    case 'moved':
      return (
        <Moved
          label={labelOf(here)}
          limit={movedLimit}
          onBack={back}
          onDone={(deg) => onPull({ moved: true, turnedDeg: deg })}
        />
      );
    case 'order':
      return (
        <div>
          <h2 className="title">
            {labelOf(nextPosition)} is next. You are on {labelOf(ask.position)}.
          </h2>
          <p style={{ fontSize: 18, margin: '10px 0' }}>
            Carry on from {labelOf(ask.position)}? Those passed over come at the end of this pass.
          </p>
          <div className="choice">
            <button type="button" className="btn" onClick={() => onOverride(ask.position)}>
              <b>Yes, carry on from {labelOf(ask.position)}</b>
              <span>it is noted as out of order</span>
            </button>
            <button type="button" className="btn" onClick={back}>
              <b>Back to {labelOf(nextPosition)}</b>
              <span>keep the order</span>
            </button>
          </div>
        </div>
      );
    case 'done':
      return (
        <div>
          <h2 className="title">{capital(nameOf(ask.position))} was done in this pass.</h2>
          <div className="choice">
            <button type="button" className="btn" onClick={() => onOverride(ask.position)}>
              <b>Pull it again</b>
              <span>a second pull is noted; it adds nothing at the same setting</span>
            </button>
            <button
              type="button"
              className="btn"
              onClick={() => {
                onOverride(ask.position);
                onLoosen();
              }}
            >
              <b>Loosen it</b>
              <span>it is open again in this pass</span>
            </button>
            <button type="button" className="btn" onClick={back}>
              <b>Back</b>
              <span>nothing happened</span>
            </button>
          </div>
        </div>
      );
    case 'findings':
      return (
        <div>
          <h2 className="title">
            Stop before {ask.event.kind === 'setting_confirmed' ? 'the setting' : nameOf(ask.event.fastener)} is kept
          </h2>
          <Findings list={ask.findings} />
          <div className="choice">
            <button type="button" className="btn" onClick={back}>
              <b>Back</b>
              <span>put it right first</span>
            </button>
            {ask.event.kind === 'pulled' && (
              <button type="button" className="btn" onClick={() => onKeep(ask.event)}>
                <b>It happened, keep it</b>
                <span>it stays as a deviation until someone closes it</span>
              </button>
            )}
          </div>
        </div>
      );
  }
}

const capital = (s: string) => s.charAt(0).toUpperCase() + s.slice(1);

/** The joint is stopped by a person. */
export function Held({ text, may, onRelease }: { text: string; may: boolean; onRelease: () => void }) {
  return (
    <div>
      <div className="stripe" style={{ margin: '-10px 0 14px' }} />
      <h2 className="title hld">Stopped</h2>
      <p style={{ fontSize: 20, margin: '10px 0' }}>{text}</p>
      {may ? (
        <button type="button" className="btn now wide" onClick={onRelease}>
          Lift the stop, go on
        </button>
      ) : (
        <p style={{ fontSize: 17 }}>The one who called it lifts it, or an inspector or engineer.</p>
      )}
    </div>
  );
}

/** The tool in hand was put aside on another screen: nothing goes on with it. */
export function Doubted({ text, touched, onTools }: { text: string; touched: string[]; onTools: () => void }) {
  return (
    <div>
      <div className="stripe" style={{ margin: '-10px 0 14px' }} />
      <h2 className="title hld">Stopped</h2>
      <p style={{ fontSize: 20, margin: '10px 0' }}>{text}</p>
      {touched.length > 0 && (
        <p style={{ fontSize: 17 }}>
          {touched.length === 1 ? 'It touched one fastener' : `It touched ${touched.length} fasteners`}:{' '}
          {touched.join(', ')}. Each stands under Prove: loosen it and bring it up again, or have it accepted.
        </p>
      )}
      <button type="button" className="btn now wide" style={{ marginTop: 14 }} onClick={onTools}>
        Take another set-up
      </button>
    </div>
  );
}

function Moved({
  label,
  limit,
  onBack,
  onDone,
}: {
  label: string;
  limit: number;
  onBack: () => void;
  onDone: (deg: number) => void;
}) {
  const field = useTyped('deg');
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        if (!field.wrong) onDone(field.figure ?? 0);
      }}
    >
      <h2 className="title">How far did nut {label} turn?</h2>
      <p style={{ fontSize: 17, margin: '8px 0' }}>
        It may turn {num(limit)}°. Leave it empty when it was not measured.
      </p>
      <div className="stations" style={{ gridTemplateColumns: '200px' }}>
        <label>
          degrees
          {/* biome-ignore lint/a11y/noAutofocus: the person has just asked for this field */}
          <input inputMode="decimal" autoFocus value={field.text} onChange={(e) => field.setText(e.target.value)} />
          <NotAFigure wrong={field.wrong} choices={field.choices} onChoose={field.setText} />
        </label>
      </div>
      <div className="acts" style={{ gridTemplateColumns: '120px 1fr' }}>
        <button type="button" className="btn" onClick={onBack}>
          Back
        </button>
        <button type="submit" className="btn now">
          Keep as turned
        </button>
      </div>
    </form>
  );
}
