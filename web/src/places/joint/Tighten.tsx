import { Checkbox, Drawer } from '@mantine/core';
import { useDisclosure, useElementSize, useHotkeys, useMediaQuery } from '@mantine/hooks';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { Finding, RunEvent } from '../../api/client';
import type { LocalRun, RunStore } from '../../api/outbox';
import { useSession } from '../../api/session';
import { usePrefs } from '../../app/prefs';
import { Findings } from '../../kit/Findings';
import { bothTorques, clock, num, unitText } from '../../kit/numbers';
import { ReasonDialog } from '../../kit/ReasonDialog';
import { ScaleCoach } from '../../kit/ScaleCoach';
import { SignDialog, type SignRequest } from '../../kit/SignDialog';
import { WorkingSheet } from '../../kit/Working';
import { hexagon } from '../../rosette/geometry';
import { Hub, Rosette } from '../../rosette/Rosette';
import { WrenchForm } from './CheckForms';
import { canListen, feedback, listen, say } from './feedback';
import { NotRight } from './NotRight';
import { PassTable } from './PassTable';

type Ask =
  | { kind: 'order'; position: number }
  | { kind: 'done'; position: number }
  | { kind: 'findings'; event: RunEvent; findings: Finding[] }
  | { kind: 'not_right' }
  | { kind: 'moved' };
type Why = 'skip' | 'back' | 'hold' | 'loosen';

const gapBetweenRecords = 400; // ms: a held or bounced key is not two bolts

/** The tightening view: one number to set, one bolt, one press. */
export function Tighten({ run, present }: { run: LocalRun & { store: RunStore | undefined }; present: boolean }) {
  const { person } = useSession();
  const [prefs, setPrefs] = usePrefs();
  const [override, setOverride] = useState<number>();
  const [look, setLook] = useState<number>();
  const [ask, setAsk] = useState<Ask>();
  const [why, setWhy] = useState<Why>();
  const [signing, setSigning] = useState<SignRequest>();
  const [working, work] = useDisclosure(false);
  const [wrenches, wrench] = useDisclosure(false);
  const [settings, setting] = useDisclosure(false);
  const [shake, setShake] = useState(0);
  const last = useRef(0);
  const box = useElementSize();
  const side = useElementSize();
  const phone = useMediaQuery('(max-width: 700px)', undefined, { getInitialValueInEffect: false });
  const { state: s, store, view } = run;
  const plan = view?.plan;
  const live = !!s && !!plan && !!store && !!person && present && s.stop === 'tighten' && !view?.record;
  const pass = s?.pass ? s.passes[s.pass - 1] : s?.passes.at(-1);
  const here = override ?? s?.next?.fastener;
  const numberOf = (p: number | undefined) => (p ? (plan?.chalk[p - 1] ?? p) : 0);
  const mark = here && s?.pass ? s.fasteners[here - 1]?.marks[s.pass - 1] : undefined;
  const checkPass = pass?.kind === 'check';
  const movedLimit = plan?.specification.movedLimitDeg || plan?.houseRules.movedLimitDeg || 0;
  const unit = unitText(pass?.unit ?? 'N_m');

  // Speak and shake when the state moves on.
  const announce = s?.announce;
  useEffect(() => {
    if (announce) say(announce, prefs);
  }, [announce, prefs]);

  const keep = useCallback(
    async (event: Partial<RunEvent> & Pick<RunEvent, 'kind'>, sure = false): Promise<void> => {
      if (!store || !person) return;
      const full = store.complete(person, event);
      const judged = store.judge(full);
      const stops = judged?.findings.filter((f) => f.severity === 'stop') ?? [];
      if (stops.length > 0 && !sure && event.kind === 'pulled') {
        setAsk({ kind: 'findings', event: full, findings: stops });
        feedback('bad', prefs);
        return;
      }
      const bad = event.kind === 'pulled' && (event.outcome !== 'clicked' || event.moved);
      feedback(bad || stops.length ? 'bad' : 'kept', prefs);
      if (bad) setShake((n) => n + 1);
      setAsk(undefined);
      setOverride(undefined);
      setLook(undefined);
      await store.add(person, event);
    },
    [store, person, prefs],
  );

  const pull = useCallback(
    (change: Partial<RunEvent>, sure = false) => {
      if (!s || !pass || !here) return;
      void keep(
        {
          kind: 'pulled',
          pass: pass.number,
          fastener: here,
          outcome: 'clicked',
          setting: pass.setting,
          ...(checkPass ? { moved: false } : {}),
          ...change,
        },
        sure,
      );
    },
    [s, pass, here, checkPass, keep],
  );

  const act = useCallback(() => {
    if (!live || !s || !pass) return;
    const now = Date.now();
    if (now - last.current < gapBetweenRecords) return;
    last.current = now;
    if (s.heldBy || ask) return;
    if (s.confirm) void keep({ kind: 'setting_confirmed', setting: pass.setting, pass: pass.number });
    else if (mark === 'over') setWhy('loosen');
    else if (here) pull({});
  }, [live, s, pass, ask, mark, here, keep, pull]);

  useHotkeys(
    [
      ['s', () => live && !s?.confirm && setWhy('skip')],
      ['n', () => live && !s?.confirm && setAsk({ kind: 'not_right' })],
      ['z', () => live && s?.lastKept && setWhy('back')],
      ['h', () => live && setWhy('hold')],
      ['w', work.toggle],
      ['ArrowRight', () => step(1)],
      ['ArrowLeft', () => step(-1)],
      ['Escape', () => setAsk(undefined)],
    ],
    ['INPUT', 'TEXTAREA', 'SELECT'],
  );
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if ((e.key !== ' ' && e.key !== 'Enter') || e.repeat) return;
      const t = e.target as HTMLElement;
      if (t.closest('input, textarea, select, button, a, [role="dialog"]')) return;
      e.preventDefault();
      act();
    };
    addEventListener('keydown', onKey);
    return () => removeEventListener('keydown', onKey);
  }, [act]);
  useEffect(() => {
    if (prefs.voice && live) return listen(act);
  }, [prefs.voice, live, act]);

  function step(by: number) {
    if (!pass) return;
    const at = pass.order.indexOf(look ?? here ?? pass.order[0] ?? 1);
    setLook(pass.order[(at + by + pass.order.length) % pass.order.length]);
  }

  function pick(position: number) {
    if (!live || s?.confirm) return;
    if (position === s?.next?.fastener) {
      setOverride(undefined);
      setAsk(undefined);
      return;
    }
    const m = s?.fasteners[position - 1]?.marks[(s?.pass ?? 1) - 1];
    setAsk(m === 'done' || m === 'moved' || m === 'moved_ok' || m === 'over' ? { kind: 'done', position } : { kind: 'order', position });
  }

  if (!s || !plan || !pass) return <p className="empty">Read and Ready come first.</p>;
  const size = phone ? Math.min(box.width - 60, 268) : Math.max(200, Math.min(box.width - 38, box.height - 34, 584));
  const stage = plan.passes.filter((p) => p.kind === 'stage');
  const aim = plan.finalNm ? pass.torqueNm / plan.finalNm : 1;
  const big = s.setting || pass.setting;
  const bigText = num(big, 2);
  const looked = look ? s.fasteners[look - 1] : undefined;
  const onlyHeldBack = s.pass > 0 && pass.open > 0 && pass.open === pass.skipped + pass.short + pass.over;
  const legend = (
    <div className="cap legend">
      {(
        [
          ['var(--ink)', 'var(--ink)', 'done this pass', ''],
          ['var(--film-2)', 'var(--ink)', 'to do', ''],
          ['url(#hHoldS)', 'var(--hold-edge)', 'short', ''],
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
  return (
    <div className={`tw${prefs.leftHand ? ' left' : ''}`}>
      <section className="ros grid-bg" ref={box.ref} style={phone ? { height: size + 4 } : undefined}>
        <span className="cap" style={{ left: 8, top: 8 }}>
          seen from {plan.layout.seenFrom || 'the tool’s side'}
        </span>
        <span className="cap" style={{ right: 8, top: 8 }}>
          torque at the nut, N·m
        </span>
        <div key={shake} className={shake ? 'short' : ''}>
          <Rosette
            size={size}
            count={plan.layout.count}
            startDeg={plan.layout.startDeg}
            numbers={plan.chalk}
            fasteners={s.fasteners}
            next={live && !s.heldBy ? here : undefined}
            prev={live && !s.heldBy && !s.confirm && s.prev ? s.prev : undefined}
            look={look}
            aim={aim}
            up={plan.specification.target.form === 'torque' ? (plan.specification.target.plusPct ?? 5) / 100 : 0.05}
            down={plan.specification.target.form === 'torque' ? (plan.specification.target.minusPct ?? 5) / 100 : 0.05}
            now={live}
            lines={stage.map((p) => (plan.finalNm ? p.torqueNm / plan.finalNm : p.percent / 100))}
            scale={
              phone
                ? []
                : stage.map((p) => ({
                    t: plan.finalNm ? p.torqueNm / plan.finalNm : 1,
                    text: num(p.torqueNm, 0),
                    now: live && Math.abs(p.torqueNm - pass.torqueNm) < 0.01,
                  }))
            }
            words={!phone}
            label={`${plan.joint.tag}, ${plan.layout.count} bolts seen from ${plan.layout.seenFrom || 'the tool’s side'}. Pass ${pass.number} of ${s.passes.length}. ${here ? `Bolt ${numberOf(here)} is next.` : ''} ${pass.done} of ${plan.layout.count} done in this pass${s.exceptions.length ? `, ${s.exceptions.join(', ')}` : ''}.`}
            hub={<Hub n={live ? pass.done + 1 : pass.done} of={`of ${plan.layout.count}`} k={size / 200} />}
            onPick={live ? pick : undefined}
          />
        </div>
        {!phone && legend}
        <ul className="sr" aria-label="Bolts of this pass">
          {pass.order.map((p) => {
            const f = s.fasteners[p - 1];
            return (
              <li key={p}>
                <button type="button" onClick={() => pick(p)} tabIndex={-1}>
                  Bolt {numberOf(p)}, {p === here ? 'next' : (f?.state ?? '').replace('_', ' ')}, {num(f?.torqueNm ?? 0, 0)} of{' '}
                  {num(pass.torqueNm, 0)} newton metres
                </button>
              </li>
            );
          })}
        </ul>
      </section>
      {s.exceptions.length > 0 && <div className="exceptions">{s.exceptions.join(' · ')}</div>}
      <section className="do" ref={side.ref}>
        <div className="sr" aria-live="polite">
          {s.announce}
        </div>
        {s.heldBy && live ? (
          <Held text={s.heldBy} onRelease={() => void keep({ kind: 'released' })} />
        ) : ask?.kind === 'not_right' ? (
          <NotRight
            number={numberOf(here)}
            setting={pass.setting}
            graduation={s.wrench?.graduation ?? plan.wrench?.graduation ?? 1}
            unit={unit}
            onBack={() => setAsk(undefined)}
            onPull={(e) => pull(e, true)}
            onWrongBolt={() => setAsk(undefined)}
            onHold={() => {
              setAsk(undefined);
              setWhy('hold');
            }}
          />
        ) : ask?.kind === 'moved' ? (
          <Moved
            number={numberOf(here)}
            limit={movedLimit}
            onBack={() => setAsk(undefined)}
            onDone={(deg) => pull({ moved: true, turnedDeg: deg })}
          />
        ) : ask?.kind === 'order' ? (
          <div>
            <h2 className="title">
              {numberOf(s.next?.fastener)} is next. You are on {numberOf(ask.position)}.
            </h2>
            <p style={{ fontSize: 18, margin: '10px 0' }}>
              Carry on from {numberOf(ask.position)}? The bolts passed over come at the end of this pass.
            </p>
            <div className="choice">
              <button
                type="button"
                className="btn"
                onClick={() => {
                  setOverride(ask.position);
                  setAsk(undefined);
                }}
              >
                <b>Yes, carry on from {numberOf(ask.position)}</b>
                <span>it is noted as out of order</span>
              </button>
              <button type="button" className="btn" onClick={() => setAsk(undefined)}>
                <b>Back to {numberOf(s.next?.fastener)}</b>
                <span>keep the order</span>
              </button>
            </div>
          </div>
        ) : ask?.kind === 'done' ? (
          <div>
            <h2 className="title">Bolt {numberOf(ask.position)} was done in this pass.</h2>
            <div className="choice">
              <button
                type="button"
                className="btn"
                onClick={() => {
                  setOverride(ask.position);
                  setAsk(undefined);
                }}
              >
                <b>Pull it again</b>
                <span>a second click is noted; it adds nothing at the same setting</span>
              </button>
              <button
                type="button"
                className="btn"
                onClick={() => {
                  setOverride(ask.position);
                  setAsk(undefined);
                  setWhy('loosen');
                }}
              >
                <b>Loosen it</b>
                <span>it is open again in this pass</span>
              </button>
              <button type="button" className="btn" onClick={() => setAsk(undefined)}>
                <b>Back</b>
                <span>nothing happened</span>
              </button>
            </div>
          </div>
        ) : ask?.kind === 'findings' ? (
          <div>
            <h2 className="title">Stop before bolt {numberOf(ask.event.fastener)} is kept</h2>
            <Findings list={ask.findings} />
            <div className="choice">
              <button type="button" className="btn" onClick={() => setAsk(undefined)}>
                <b>Back</b>
                <span>put it right first</span>
              </button>
              <button type="button" className="btn" onClick={() => void keep(ask.event, true)}>
                <b>It happened, keep it</b>
                <span>it stays as a departure until someone closes it</span>
              </button>
            </div>
          </div>
        ) : (
          <>
            <div className="hd">
              {live ? (
                s.confirm ? (
                  <>
                    <span className="b">Set the wrench</span>
                    <span className="w">{s.confirm}</span>
                  </>
                ) : (
                  <>
                    <span className="b">Bolt {numberOf(here)}</span>
                    <span className="w">
                      {override ? 'out of order, by your choice' : s.next?.why}
                      <span className="then">{!override && s.next?.then.length ? ` · then ${s.next.then.join(', ')}` : ''}</span>
                    </span>
                  </>
                )
              ) : (
                <span className="b" style={{ color: 'var(--ink)' }}>
                  {s.pass > 0 ? `Pass ${s.pass}, not open yet` : 'All passes are done'}
                </span>
              )}
            </div>
            <div className="num-row">
              <div className={`big${bigText.length === 3 ? ' three' : bigText.length > 3 ? ' four' : ''}`} data-testid="setting">
                {bigText}
              </div>
              {phone ? (
                <div className="unit">
                  {unit}
                  <small>
                    on wrench {s.wrench?.tag ?? plan.wrench?.tag}
                    <br />
                    pass {pass.number} of {s.passes.length}
                  </small>
                </div>
              ) : (
                <PassTable state={s} onlyHeldBack={onlyHeldBack} />
              )}
            </div>
            {!phone && (
              <div className="unit">
                {unit} <small>on the scale of click wrench {s.wrench?.tag ?? plan.wrench?.tag}</small>
              </div>
            )}
            <div className="chain">
              <span>= {bothTorques(pass.torqueNm, plan.houseRules)} at the nut</span>
              <button type="button" className="btn plain sm" style={{ height: 24, fontSize: 15 }} onClick={work.toggle}>
                {working ? 'close the working' : 'show the working'}
              </button>
            </div>
            {working && <WorkingSheet workings={plan.workings} titles={['Stages', 'What the wrench', 'Torque']} />}
            {!working && s.coach && (s.wrench ?? plan.wrench) && (
              <div className="coach">
                <ScaleCoach
                  coach={s.coach}
                  wrench={(s.wrench ?? plan.wrench) as NonNullable<typeof s.wrench>}
                  width={Math.max(300, side.width - 8)}
                  compact={phone}
                />
              </div>
            )}
            {looked && (
              <p className="m" style={{ fontSize: 16, fontWeight: 600 }}>
                Bolt {looked.number}: {looked.state.replace('_', ' ')}, {num(looked.torqueNm, 0)} N·m
              </p>
            )}
            <div className="phone-fixed">
              <div className="last-kept">
                {s.lastKept ? (
                  <>
                    <b>Last kept</b> bolt {s.lastKept.number} {s.lastKept.text}, <span className="m">{clock(s.lastKept.at)}</span>
                  </>
                ) : (
                  <b>Nothing kept yet</b>
                )}
                <span className="then">{live && ` · ${s.left} left in this pass, about ${num(s.minutes, 0)} min`}</span>
              </div>
              {live &&
                (s.confirm ? (
                  <div className="acts one">
                    <button type="button" className="btn now" onClick={act}>
                      Set to {bigText}, locked, grip does not move <kbd>Space</kbd>
                    </button>
                  </div>
                ) : mark === 'over' ? (
                  <div className="acts">
                    <button type="button" className="btn now" onClick={act}>
                      {numberOf(here)} loosened <kbd>Space</kbd>
                    </button>
                    <button
                      type="button"
                      className="btn"
                      onClick={() => pull({ outcome: 'replaced', reason: 'pulled past the click' }, true)}
                    >
                      Replaced
                    </button>
                    <button type="button" className="btn" onClick={() => setWhy('skip')}>
                      Later <kbd>S</kbd>
                    </button>
                  </div>
                ) : (
                  <div className={`acts${checkPass ? ' check' : ''}`}>
                    <button type="button" className="btn now" onClick={act}>
                      {numberOf(here)} {checkPass ? 'stayed' : 'clicked'} <kbd>Space</kbd>
                    </button>
                    {checkPass ? (
                      <button
                        type="button"
                        className="btn"
                        onClick={() => (movedLimit > 0 ? setAsk({ kind: 'moved' }) : pull({ moved: true }))}
                      >
                        Still turned
                      </button>
                    ) : (
                      <button type="button" className="btn" onClick={() => setWhy('skip')}>
                        Skip <kbd>S</kbd>
                      </button>
                    )}
                    <button type="button" className="btn" onClick={() => setAsk({ kind: 'not_right' })}>
                      Not right <kbd>N</kbd>
                    </button>
                  </div>
                ))}
            </div>
            <div className="keys">
              {live && s.lastKept && (
                <button type="button" className="btn" onClick={() => setWhy('back')}>
                  <kbd>Z</kbd> take back {s.lastKept.number}
                </button>
              )}
              {live && (
                <>
                  <button type="button" className="btn" onClick={() => setWhy('hold')}>
                    <kbd>H</kbd> hold the joint
                  </button>
                  <button type="button" className="btn" onClick={wrench.open}>
                    change wrench
                  </button>
                  <button type="button" className="btn" onClick={() => void keep({ kind: 'paused' })}>
                    pause
                  </button>
                </>
              )}
              {live && onlyHeldBack && (
                <button
                  type="button"
                  className="btn"
                  onClick={() =>
                    setSigning({
                      title: `Let pass ${s.pass + 1} begin`,
                      text: `${pass.open} bolts of pass ${s.pass} are open: ${s.exceptions.join(', ')}.`,
                      purpose: 'start_pass',
                      pass: s.pass + 1,
                      needsReason: 'Why the next pass may begin without them',
                      only: (p) => p.role === 'engineer' || p.role === 'administrator',
                    })
                  }
                >
                  let pass {s.pass + 1} begin
                </button>
              )}
              <button type="button" className="btn" onClick={setting.open}>
                sound, voice, hand
              </button>
            </div>
          </>
        )}
      </section>
      <ReasonDialog
        opened={why === 'skip'}
        title={`Leave bolt ${numberOf(here)} for later`}
        text="The pass does not end while a bolt is open."
        choices={['No room for the wrench', 'Support or scaffold in the way', 'Nut or bolt to be changed']}
        verb="Leave it for later"
        onClose={() => setWhy(undefined)}
        onDone={(reason) => {
          if (here) void keep({ kind: 'skipped', pass: pass.number, fastener: here, reason });
        }}
      />
      <ReasonDialog
        opened={why === 'back'}
        title={`Take back bolt ${s.lastKept?.number}?`}
        text="It stays on the sheet, struck through, with your reason."
        choices={['Pressed by mistake', 'It was another bolt', 'The wrench slipped']}
        verb="Take it back"
        onClose={() => setWhy(undefined)}
        onDone={(reason) => {
          if (s.lastKept) void keep({ kind: 'taken_back', ref: s.lastKept.eventId, reason });
        }}
      />
      <ReasonDialog
        opened={why === 'hold'}
        title="Hold the joint"
        text="Nothing goes on until someone lifts it."
        choices={['Something moves that should not', 'Paint or dirt on the face', 'Waiting for a part']}
        verb="Hold it"
        onClose={() => setWhy(undefined)}
        onDone={(reason) => void keep({ kind: 'held', reason })}
      />
      <ReasonDialog
        opened={why === 'loosen'}
        title={`Bolt ${numberOf(here)} is loosened`}
        text="Let it go, run the nut by hand, then bring it up with the others."
        choices={['Pulled past the click', 'Clicked without turning', 'Set too high']}
        verb="It is loosened"
        onClose={() => setWhy(undefined)}
        onDone={(reason) => {
          if (here) void keep({ kind: 'loosened', pass: pass.number, fastener: here, reason });
        }}
      />
      <Drawer opened={wrenches} onClose={wrench.close} title="Change wrench" position="bottom" size="lg" transitionProps={{ duration: 0 }}>
        <WrenchForm
          plan={plan}
          run={run}
          onTake={(w) => {
            void keep({ kind: 'wrench_taken', wrench: w });
            wrench.close();
          }}
        />
      </Drawer>
      <Drawer
        opened={settings}
        onClose={setting.close}
        title="On this device"
        position="bottom"
        size="sm"
        transitionProps={{ duration: 0 }}
      >
        <div style={{ display: 'grid', gap: 14 }}>
          {(
            [
              ['sound', 'Sound when a bolt is kept'],
              ['buzz', 'Buzz when a bolt is kept'],
              ['speak', 'Say the next bolt aloud'],
              ['voice', canListen() ? 'Listen for “clicked”, “done” or “next”' : 'Listening is not possible in this browser'],
              ['leftHand', 'Left-handed: swap the halves'],
            ] as const
          ).map(([k, label]) => (
            <Checkbox
              key={k}
              size="lg"
              label={label}
              checked={prefs[k]}
              disabled={k === 'voice' && !canListen()}
              onChange={(e) => setPrefs({ ...prefs, [k]: e.currentTarget.checked })}
            />
          ))}
        </div>
      </Drawer>
      {store && <SignDialog runId={store.id} request={signing} onClose={() => setSigning(undefined)} />}
    </div>
  );
}

function Held({ text, onRelease }: { text: string; onRelease: () => void }) {
  return (
    <div>
      <div className="stripe" style={{ margin: '-10px -24px 14px' }} />
      <h2 className="title hld">Stopped</h2>
      <p style={{ fontSize: 20, margin: '10px 0' }}>{text}</p>
      <button type="button" className="btn now wide" onClick={onRelease}>
        Lift the stop, go on
      </button>
    </div>
  );
}

function Moved({ number, limit, onBack, onDone }: { number: number; limit: number; onBack: () => void; onDone: (deg: number) => void }) {
  const [deg, setDeg] = useState('');
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        onDone(Number(deg.replace(',', '.')) || 0);
      }}
    >
      <h2 className="title">How far did nut {number} turn?</h2>
      <p style={{ fontSize: 17, margin: '8px 0' }}>It may turn {num(limit)}°. Leave it empty when it was not measured.</p>
      <div className="stations" style={{ gridTemplateColumns: '200px' }}>
        <label>
          degrees
          {/* biome-ignore lint/a11y/noAutofocus: the person has just asked for this field */}
          <input inputMode="decimal" autoFocus value={deg} onChange={(e) => setDeg(e.target.value)} />
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
