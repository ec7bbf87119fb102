import { num } from '../../kit/numbers';
import { GroupRosette, GroupStrip } from '../../rosette/GroupRosette';
import { hexagon } from '../../rosette/geometry';
import { Hub } from '../../rosette/Rosette';
import { capital, type Work } from './useTighten';

function Legend({ easing }: { easing: boolean }) {
  return (
    <div className="cap legend">
      {(
        [
          ['var(--ink)', 'var(--ink)', easing ? 'still tight' : 'done this pass', ''],
          ['var(--film-2)', 'var(--ink)', easing ? 'let go in this round' : 'to do', ''],
          ['url(#hHoldS)', 'var(--hold-edge)', easing ? 'still held' : 'short', ''],
          ['none', 'var(--hold-ink)', 'for later', '3 2'],
        ] as const
      ).map(([fill, stroke, name, dash]) => (
        <span key={name}>
          <svg width="18" height="18" viewBox="-9 -9 18 18" aria-hidden="true">
            <path d={hexagon(0, 0, 8, 30)} style={{ fill, stroke, strokeWidth: 1.5, strokeDasharray: dash }} />
          </svg>
          {name}
        </span>
      ))}
    </div>
  );
}

/** The joint as it is seen, with what is next, what is done and what is not right; the same as a list for those who listen. */
export function TightenDrawing({ w }: { w: Work }) {
  const {
    s,
    plan,
    pass,
    hand,
    live,
    here,
    gate,
    look,
    confirming,
    several,
    byTool,
    phone,
    size,
    stage,
    aim,
    target,
    group: g,
  } = w;
  return (
    <section className="ros grid-bg" ref={w.box.ref} style={phone ? { height: size + 4 } : undefined}>
      <span className="cap" style={{ left: 8, top: 8 }}>
        {several && <b>{g.groupName}, </b>}seen from {g.layout.seenFrom || 'the tool’s side'}
      </span>
      <span className="cap" style={{ right: 8, top: 8 }}>
        {w.easing ? 'load left, about, %' : g.finalNm ? 'torque at the nut, N·m' : 'share of the steps done'}
      </span>
      <div key={w.shake} className={w.shake ? 'short' : ''}>
        <GroupRosette
          size={size}
          group={g}
          chalk={plan.chalk}
          fasteners={s.fasteners}
          next={live && !s.stoppedBy && !gate ? here : undefined}
          others={
            live ? hand.others.flatMap((o) => (o.next ? [{ position: o.next.fastener, letter: o.letter }] : [])) : []
          }
          letter={hand.letter}
          prev={live && !s.stoppedBy && !confirming && hand.prev ? hand.prev : undefined}
          look={look}
          aim={aim}
          easing={w.easing}
          up={target?.form === 'torque' ? (target.plusPct ?? 5) / 100 : 0.05}
          down={target?.form === 'torque' ? (target.minusPct ?? 5) / 100 : 0.05}
          now={live}
          lines={
            w.easing
              ? [100, ...w.rounds].map((v) => v / 100)
              : stage.map((p) => (g.finalNm ? p.torqueNm / g.finalNm : p.percent / 100))
          }
          scale={
            phone
              ? []
              : w.easing
                ? [100, ...w.rounds].map((v) => ({ t: v / 100, text: num(v, 0), now: live && v === pass.percent }))
                : stage.map((p) => ({
                    t: g.finalNm ? p.torqueNm / g.finalNm : 1,
                    text: num(p.torqueNm, 0),
                    now: live && Math.abs(p.torqueNm - pass.torqueNm) < 0.01,
                  }))
          }
          words={!phone}
          label={`${plan.joint.tag}, ${g.layout.count} ${g.noun || 'bolt'}s seen from ${g.layout.seenFrom || 'the tool’s side'}. Pass ${pass.number} of ${s.passes.length}. ${here ? `${capital(w.nameOf(here))} is next.` : ''} ${pass.done} of ${pass.of} done in this pass${s.exceptions.length ? `, ${s.exceptions.join(', ')}` : ''}.`}
          hub={
            g.layout.kind && g.layout.kind !== 'circle' ? undefined : (
              <Hub n={live ? Math.min(pass.done + 1, pass.of) : pass.done} of={`of ${pass.of}`} k={size / 200} />
            )
          }
          onPick={live ? w.pick : undefined}
        />
      </div>
      {!phone && <Legend easing={w.easing} />}
      {several && !phone && <GroupStrip plan={plan} fasteners={s.fasteners} present={g.group} />}
      <ul className="sr" aria-label="Bolts of this pass">
        {pass.order.map((p) => {
          const f = s.fasteners[p - 1];
          return (
            <li key={p}>
              <button type="button" onClick={() => w.pick(p)} tabIndex={-1}>
                {capital(w.nameOf(p))}, {p === here ? 'next' : (f?.state ?? '').replace('_', ' ')}
                {byTool && `, ${num(f?.torqueNm ?? 0, 0)} of ${num(pass.torqueNm, 0)} newton metres`}
              </button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
