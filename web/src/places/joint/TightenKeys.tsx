import { clock, num } from '../../kit/numbers';
import { EaseAct } from './Ease';
import { TightenActs } from './TightenActs';
import type { Work } from './useTighten';

/** What was kept last, and the act of the moment within reach of the thumb. */
export function TightenActNow({ w }: { w: Work }) {
  const { s, pass, hand, live, here, movedLimit } = w;
  return (
    <div className="phone-fixed">
      <div className="last-kept">
        {hand.lastKept ? (
          <>
            <b>Last kept</b> {hand.lastKept.name} {hand.lastKept.text},{' '}
            <span className="m">{clock(hand.lastKept.at)}</span>
          </>
        ) : (
          <b>Nothing kept yet</b>
        )}
        <span className="then">{live && ` · ${hand.left} left in this pass, about ${num(s.minutes, 0)} min`}</span>
      </div>
      {live && pass.kind === 'ease' && here && <EaseAct w={w} />}
      {live && pass.kind !== 'ease' && (
        <TightenActs
          hand={hand}
          pass={pass}
          done={w.done}
          mark={w.mark}
          label={here ? w.labelOf(here) : undefined}
          checkPass={w.checkPass}
          cleared={w.clear === here}
          reaction={s.reaction}
          onAct={w.act}
          onConfirm={w.confirm}
          onPull={w.pull}
          rest={w.rest}
          onRest={w.pullRest}
          onSkip={() => w.setWhy('skip')}
          onNotRight={() => w.setAsk({ kind: 'not_right' })}
          onMoved={() => (movedLimit > 0 ? w.setAsk({ kind: 'moved' }) : w.pull({ moved: true }))}
        />
      )}
    </div>
  );
}

/** Everything else that can be done here, smaller: nothing of it is the next pull. */
export function TightenKeys({ w }: { w: Work }) {
  const { s, pass, hand, live, byTool, onlyHeldBack } = w;
  const last = s.pass === s.passes.length;
  return (
    <div className="keys">
      {live && hand.lastKept && (
        <button type="button" className="btn" onClick={() => w.setWhy('back')}>
          <kbd>Z</kbd> take back {w.labelOf(hand.lastKept.fastener)}
        </button>
      )}
      {live && (
        <>
          {pass.kind === 'ease' && (
            <button type="button" className="btn" onClick={() => w.setWhy('skip')}>
              <kbd>S</kbd> later
            </button>
          )}
          <button type="button" className="btn" onClick={() => w.setWhy('hold')}>
            <kbd>H</kbd> hold the joint
          </button>
          {byTool && (
            <button type="button" className="btn" onClick={w.tools.open}>
              change tools
            </button>
          )}
          <button type="button" className="btn" onClick={() => void w.keep({ kind: 'paused' })}>
            pause
          </button>
        </>
      )}
      {live && onlyHeldBack && (
        <button
          type="button"
          className="btn"
          onClick={() =>
            w.setSigning({
              title: last ? 'End the last pass' : `Let pass ${s.pass + 1} begin`,
              text: `${pass.open} of ${pass.of} in pass ${s.pass} are open: ${s.exceptions.join(', ')}. The record says so.`,
              purpose: 'start_pass',
              pass: s.pass + 1,
              needsReason: last ? 'Why it may end without them' : 'Why the next pass may begin without them',
            })
          }
        >
          {last ? 'end the last pass' : `let pass ${s.pass + 1} begin`}
        </button>
      )}
      <button type="button" className="btn" onClick={w.device.open}>
        {hand.letter ? `this device: ${hand.letter}, sound, hand` : 'sound, voice, hand'}
      </button>
    </div>
  );
}
