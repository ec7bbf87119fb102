import { useState } from 'react';
import type { ShiftPlan } from '../../api/client';
import { ReasonFields } from '../../kit/ReasonDialog';
import { TagPlate } from '../../rosette/Glyph';
import type { HandData } from './useHand';
import { hm, kindWord } from './words';

/** What the part in the hand breaks where it is, and what can be done about it. */
export function InHand({ hand, p }: { hand: HandData; p: ShiftPlan }) {
  const [why, setWhy] = useState(false);
  const h = hand.hand;
  if (!h) return null;
  const v = h.verdict;
  const n = v?.breaks.length ?? 0;
  const at = hm(h.start);
  return (
    <aside
      className={`chosen-job in-hand-panel${n > 0 ? ' breaks' : ''}`}
      aria-label="The part of the work in the hand"
    >
      <div className="stripe" />
      <div className="who-line">
        <TagPlate text={h.a.tag} size={18} />
        <b>{p.joints.find((j) => j.tag === h.a.tag)?.name}</b>
      </div>
      <h2 aria-live="polite">
        {n > 0
          ? `With ${h.to} at ${at} ${n === 1 ? 'breaks one rule' : `breaks ${n} rules`}`
          : v
            ? `With ${h.to} at ${at} breaks nothing`
            : `With ${h.to} at ${at}`}
      </h2>
      <p>
        {kindWord[h.a.kind]}
        {v && `, would end ${hm(v.end)}`}
      </p>
      {h.wrong && (
        <p className="wrong" role="alert">
          {h.wrong}
        </p>
      )}
      {n > 0 && (
        <ul className="breaks-list">
          {v?.breaks.map((b) => (
            <li key={b}>{b}</li>
          ))}
        </ul>
      )}
      {v?.hard && <p>Who may do it, when they are there, isolation and two persons cannot be set aside here.</p>}
      {n === 0 && v && (
        <button type="button" className="btn now wide" onClick={() => hand.put(v.clock)}>
          Put it here, {at}
        </button>
      )}
      {n > 0 && v?.nearest && (
        <button type="button" className="btn now wide" onClick={() => hand.put(v.nearestClock)}>
          Put it with {h.to}, {hm(v.nearest)}
        </button>
      )}
      {n > 0 && v && !v.hard && !why && (
        <button type="button" className="btn wide" onClick={() => setWhy(true)}>
          Here all the same, with a reason
        </button>
      )}
      {n > 0 && v && !v.hard && why && (
        <ReasonFields
          verb="Pin it here"
          label="Why others give way to it"
          onDone={(reason) => hand.put(v.clock, reason)}
        />
      )}
      <button type="button" className="btn wide" onClick={hand.back}>
        Back where it was <kbd>Esc</kbd>
      </button>
    </aside>
  );
}
