import { useState } from 'react';
import type { FastenerGroup, PassState } from '../../api/client';
import { NotAFigure } from '../../kit/Figure';
import { useTyped } from '../../kit/figures';
import { num, unitText } from '../../kit/numbers';
import { turnWords } from './hand';
import type { Chosen } from './RunDownWith';
import type { Work } from './useTighten';

/** What a fastener is let go with until somebody chooses: the hydraulic tool where it went on with one, else a bar. */
export function letGoWith(g: FastenerGroup, chosen: Chosen): Chosen {
  if (chosen.kind || !g.loosening?.pressure) return chosen;
  const tool = g.setUp?.string.find((t) => t.kind === 'hydraulic_wrench');
  return tool ? { kind: tool.kind, tag: tool.tag } : chosen;
}

/** The scale on which letting go is read with what is in hand. */
export const breakUnit = (g: FastenerGroup, chosen: Chosen): string =>
  chosen.kind === 'hydraulic_wrench' ? (g.loosening?.unit ?? 'N_m') : 'N_m';

/** The largest thing on the screen: the most that may be set, else how far it is turned back. */
export function easeBig(pass: PassState, g: FastenerGroup, chosen: Chosen) {
  const l = g.loosening;
  const back = pass.turnDeg ? `${turnWords(pass.turnDeg)} back` : 'until it runs by hand';
  if (l?.pressure && chosen.kind === 'hydraulic_wrench' && pass.percent > 0)
    return { text: num(l.pressure, 0), unit: `${unitText(l.unit ?? 'bar')} at most`, under: back };
  if (pass.turnDeg) return { text: `${num(pass.turnDeg, 0)}°`, unit: 'back', under: back };
  return { text: 'Loose', words: true, unit: '', under: back };
}

/** What it went on at, and what letting go may take. */
export function WentOn({ w }: { w: Work }) {
  const { plan, group: g, pass } = w;
  const l = g.loosening;
  const first = plan.passes.find((p) => p.kind === 'ease' && p.group === g.group)?.percent === pass.percent;
  if (!l)
    return (
      <p className="until">Nobody knows what it went on at: take a bar that bears more than you would tighten with.</p>
    );
  return (
    <p className="until">
      {first ? (
        <>
          <b>Went on at</b> {num(l.wentOn ?? l.torqueNm / l.factor, 0)} {unitText(l.wentOnUnit ?? 'N_m')}; reckon with
          up to <b>{num(l.torqueNm, 0)} N·m</b>. Take {l.with}. {!l.feasible && <span className="hld">{l.why}</span>}
        </>
      ) : (
        <>About {num(pass.percent, 0)} % of its load is left after this round.</>
      )}
    </p>
  );
}

const forces = [
  { method: 'oil', word: 'Penetrating oil', say: 'soak, wait, try again' },
  { method: 'heat', word: 'Heat', say: 'no flame near what leaks' },
  { method: 'cut', word: 'Split or cut the nut', say: 'stud and nut are thrown away' },
];

/** The fastener of the moment is let go: with what it took in the first round, or it will not move. */
export function EaseAct({ w }: { w: Work }) {
  const { s, plan, pass, group: g, here } = w;
  const [stuck, setStuck] = useState(false);
  const [force, setForce] = useState('');
  const label = w.labelOf(here);
  const first = plan.passes.find((p) => p.kind === 'ease' && p.group === g.group)?.percent === pass.percent;
  const unit = breakUnit(g, w.runDown);
  const field = useTyped(unit, `${here} ${pass.number} ${unit}`);
  const open = s.deviations.find((d) => d.code === 'stuck' && d.fastener === here && d.status === 'open');
  const left = s.deviations.some((d) => d.code === 'stuck' && d.fastener === here && d.status === 'accepted');
  if (stuck)
    return (
      <fieldset className="choice stuck" aria-label={`${label} will not move`}>
        {forces.map((f) => (
          <button
            key={f.method}
            type="button"
            className="btn"
            onClick={() => {
              setStuck(false);
              w.pull({ outcome: 'stuck', method: f.method }, true);
            }}
          >
            <b>Ask leave: {f.word.toLowerCase()}</b>
            <span>{f.say}</span>
          </button>
        ))}
        <button type="button" className="btn" onClick={() => setStuck(false)}>
          <b>Back</b>
          <span>try it once more</span>
        </button>
      </fieldset>
    );
  return (
    <>
      {open && (
        <div className="finding caution ease-leave">
          <span>
            <b>{label} waits for leave.</b> {open.what}.
          </span>
          <button
            type="button"
            className="btn sm"
            onClick={() =>
              w.setSigning({
                title: 'Give leave',
                text: `${open.what}. ${open.remedy ?? ''}`,
                purpose: 'deviation',
                ref: open.id,
                needsReason: 'What may be done, and how',
              })
            }
          >
            Give leave by PIN
          </button>
        </div>
      )}
      {left && (
        <fieldset className="ways ease-force" aria-label="Let go by">
          <span className="lab">Let go by</span>
          {[{ method: '', word: 'As the others' }, ...forces].map((f) => (
            <button
              key={f.method}
              type="button"
              className={`btn sm${force === f.method ? ' on' : ''}`}
              aria-pressed={force === f.method}
              onClick={() => setForce(f.method)}
            >
              {f.word}
            </button>
          ))}
        </fieldset>
      )}
      <form
        className={first ? 'acts reads four ease' : 'acts'}
        onSubmit={(e) => {
          e.preventDefault();
          if (field.wrong) return;
          w.pull({
            ...(first && field.reading ? { reading: field.reading } : {}),
            ...(force ? { method: force } : {}),
          });
          setForce('');
        }}
      >
        {first && (
          <>
            <NotAFigure wrong={field.wrong} choices={field.choices} onChoose={field.setText} />
            <label>
              Let go at, {unitText(unit)}
              <input inputMode="decimal" value={field.text} onChange={(e) => field.setText(e.target.value)} />
            </label>
          </>
        )}
        <button type="submit" className="btn now" disabled={!!field.wrong}>
          {label} let go <kbd>Space</kbd>
        </button>
        <button type="button" className="btn" onClick={() => setStuck(true)}>
          Will not move
        </button>
        <button type="button" className="btn" onClick={() => w.setAsk({ kind: 'not_right' })}>
          Not right <kbd>N</kbd>
        </button>
      </form>
    </>
  );
}

/** What came out otherwise while a fastener was let go. */
export function EaseNotRight({ w, name }: { w: Work; name: string }) {
  const back = () => w.setAsk(undefined);
  return (
    <div>
      <h2 className="title">What is not right with {name}?</h2>
      <div className="choice">
        <button type="button" className="btn" onClick={() => w.pull({ outcome: 'short' }, true)}>
          <b>Not free yet</b>
          <span>it comes again before the round ends</span>
        </button>
        {w.pass.percent > 0 && (
          <button type="button" className="btn" onClick={() => w.pull({ outcome: 'over' })}>
            <b>It came loose altogether</b>
            <span>its neighbours hold its load now: an engineer looks at it</span>
          </button>
        )}
        <button
          type="button"
          className="btn"
          onClick={() => {
            back();
            w.setWhy('skip');
          }}
        >
          <b>Leave it for later</b>
          <span>it comes at the end of the round</span>
        </button>
        <button
          type="button"
          className="btn"
          onClick={() => {
            back();
            w.setWhy('hold');
          }}
        >
          <b>Stop: something comes out, or moves</b>
          <span>nothing goes on until somebody lifts the stop</span>
        </button>
        <button type="button" className="btn" onClick={back}>
          <b>Back</b>
          <span>nothing happened</span>
        </button>
      </div>
    </div>
  );
}
