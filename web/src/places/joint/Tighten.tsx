import { useDisclosure, useElementSize, useHotkeys, useMediaQuery } from '@mantine/hooks';
import { useCallback, useEffect, useState } from 'react';
import type { CheckState, DeviceResult, PassState, RunEvent } from '../../api/client';
import type { LocalRun, RunStore } from '../../api/runStore';
import { useSession } from '../../api/session';
import { usePrefs } from '../../app/prefs';
import { bothTorques, clock, num, unitText } from '../../kit/numbers';
import { notTaken, useQuestion } from '../../kit/question';
import { SignDialog, type SignRequest } from '../../kit/SignDialog';
import { ToolCoach } from '../../kit/ToolCoach';
import { WorkingSheet } from '../../kit/Working';
import { GroupRosette, GroupStrip, groupsOf } from '../../rosette/GroupRosette';
import { hexagon } from '../../rosette/geometry';
import { Hub } from '../../rosette/Rosette';
import { CheckPanel } from './CheckPanel';
import { feedback, listen, say } from './feedback';
import { handOf, isPressure, markGoes, toolKinds, turnWords, useHandIndex } from './hand';
import { LiveView, useLiveTool } from './LiveTool';
import { PassTable } from './PassTable';
import { GroupItems } from './Ready';
import { TightenActs } from './TightenActs';
import { type Ask, Held, TightenAsk } from './TightenAsk';
import { TightenDialogs, type Why } from './TightenDialogs';

const capital = (t: string) => t.charAt(0).toUpperCase() + t.slice(1);

/** The largest thing on the screen: the number to set, or how far, or what is done by hand. */
function bigOf(pass: PassState, byTool: boolean, setting: number): { text: string; words?: boolean; unit?: string; under?: string } {
  if (byTool && pass.kind !== 'turns') return { text: num(setting, 2) };
  switch (pass.kind) {
    case 'turns':
      return { text: num(setting, 2), under: turnWords(pass.turnDeg ?? 0) };
    case 'turn':
      return { text: `${num(pass.turnDeg ?? 0, 0)}°`, unit: 'turn', under: turnWords(pass.turnDeg ?? 0) };
    case 'effort':
      return {
        text: `${num(pass.lowNm ?? 0, 0)}–${num(pass.highNm ?? 0, 0)}`,
        words: true,
        unit: 'N·m',
        under: pass.until || 'effort to turn',
      };
    case 'stretch':
      return { text: `${num(pass.lowMm ?? 0, 3)}–${num(pass.highMm ?? 0, 3)}`, words: true, unit: 'mm', under: 'longer than before' };
    case 'leave':
      return { text: 'No torque', words: true, unit: '', under: 'stays as it is' };
    case 'undo':
      return { text: 'Undo', words: true, unit: '', under: 'let go on purpose' };
    case 'shape':
      return { text: 'To shape', words: true, unit: '', under: 'no torque decides here' };
  }
  return { text: 'By hand', words: true, unit: '', under: 'no tool is set' };
}

/** The tightening view: one number to set, one bolt, one press. */
export function Tighten({ run, present }: { run: LocalRun & { store: RunStore | undefined }; present: boolean }) {
  const { person } = useSession();
  const [prefs] = usePrefs();
  const [handIndex, setHandIndex] = useHandIndex();
  const [override, setOverride] = useState<number>();
  const [look, setLook] = useState<number>();
  const [ask, setAsk] = useState<Ask>();
  const [why, setWhy] = useState<Why>();
  const [signing, setSigning] = useState<SignRequest>();
  const [clear, setClear] = useState<number>(); // the fastener for which it was said that the arm bears and hands are clear
  const [working, work] = useDisclosure(false);
  const [tools, tool] = useDisclosure(false);
  const [settings, setting] = useDisclosure(false);
  const [gateCode, setGateCode] = useState<string>();
  const [shake, setShake] = useState(0);
  const box = useElementSize();
  const side = useElementSize();
  const phone = useMediaQuery('(max-width: 700px)', undefined, { getInitialValueInEffect: false });
  const { state: s, store, view } = run;
  const plan = view?.plan;
  const live = !!s && !!plan && !!store && !!person && present && s.stop === 'tighten' && !view?.record;
  const pass = s?.pass ? s.passes[s.pass - 1] : s?.passes.at(-1);
  const hand = s && plan ? handOf(s, plan, handIndex) : undefined;
  const here = override ?? hand?.next?.fastener;
  const nameOf = (p: number | undefined) => (p ? (s?.fasteners[p - 1]?.name ?? '') : '');
  const labelOf = (p: number | undefined) => (p ? `${groupAt(p)?.face ?? ''}${plan?.chalk[p - 1] ?? p}` : '');
  const groupAt = (p: number) => (plan ? groupsOf(plan).find((g) => p <= (g.offset ?? 0) + g.layout.count) : undefined);
  const mark = here && s?.pass ? s.fasteners[here - 1]?.marks[s.pass - 1] : undefined;
  const checkPass = pass?.kind === 'check';
  const movedLimit = pass?.movedDeg ?? 0;
  const done = s?.done ?? 'clicked';
  const byTool = toolKinds.has(pass?.kind ?? 'stage');
  const needsClear = !!hand?.group.clear && byTool;
  const confirming = !!hand?.confirm;
  // What the big button means: when it changes, a held or bounced key is not an answer to the new one.
  const question = useQuestion(`${pass?.number} ${here} ${mark} ${confirming} ${clear === here} ${s?.gates[0]} ${ask?.kind} ${s?.heldBy}`);
  const { settled, hold } = question;

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
      const asks = event.kind === 'pulled' || event.kind === 'setting_confirmed';
      if (stops.length > 0 && !sure && asks) {
        setAsk({ kind: 'findings', event: full, findings: stops });
        feedback('bad', prefs);
        return;
      }
      const good = !!event.outcome && !['short', 'over', 'clicked_still', 'replaced'].includes(event.outcome);
      const bad = event.kind === 'pulled' && (!good || event.moved || judged?.findings.some((f) => f.severity === 'caution'));
      const kept = store.add(person, event);
      hold(kept);
      try {
        await kept;
      } catch {
        feedback('bad', prefs); // why stands above the stops; what was asked is asked still
        return;
      }
      feedback(bad || stops.length ? 'bad' : 'kept', prefs);
      if (bad) setShake((n) => n + 1);
      setAsk(undefined);
      setOverride(undefined);
      setLook(undefined);
      setClear(undefined);
    },
    [store, person, prefs, hold],
  );

  const handNo = hand?.index;
  const handSetting = hand?.setting;
  const pull = useCallback(
    (change: Partial<RunEvent>, sure = false) => {
      if (!s || !pass || !here || handSetting === undefined) return;
      void keep(
        {
          kind: 'pulled',
          pass: pass.number,
          fastener: here,
          outcome: done,
          ...(byTool ? { setting: handSetting } : {}),
          ...(pass.kind === 'turn' ? { turnedDeg: pass.turnDeg ?? 0 } : {}),
          ...(handNo ? { hand: handNo } : {}),
          ...(needsClear && clear === here ? { clear: true } : {}),
          ...(checkPass ? { moved: false } : {}),
          ...change,
        },
        sure,
      );
    },
    [s, pass, here, handSetting, handNo, done, byTool, needsClear, clear, checkPass, keep],
  );

  const confirm = useCallback(
    (change: Partial<RunEvent> = {}) => {
      if (!pass || handSetting === undefined) return;
      void keep({ kind: 'setting_confirmed', setting: handSetting, pass: pass.number, ...(handNo ? { hand: handNo } : {}), ...change });
    },
    [pass, handSetting, handNo, keep],
  );

  const pressure = isPressure(hand?.unit ?? '');
  const act = useCallback(() => {
    if (!live || !s || !pass) return;
    if (!settled()) {
      notTaken();
      return;
    }
    if (s.heldBy || ask) return;
    if (confirming) {
      if (!pressure) confirm(); // a pressure is read twice: the second reading is typed
    } else if (mark === 'over') setWhy('loosen');
    else if (needsClear && here && clear !== here) setClear(here);
    else if (here && done !== 'reached' && done !== 'measured' && !s.gates.length) pull({});
  }, [live, s, pass, ask, mark, here, confirming, pressure, needsClear, clear, done, settled, pull, confirm]);

  useHotkeys(
    [
      ['s', () => live && !confirming && setWhy('skip')],
      ['n', () => live && !confirming && setAsk({ kind: 'not_right' })],
      ['z', () => live && hand?.lastKept && setWhy('back')],
      ['h', () => live && setWhy('hold')],
      ['w', work.toggle],
      ['a', () => s?.hands && setHandIndex(0)],
      ['b', () => s?.hands && setHandIndex(1)],
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

  const onResult = useCallback(
    (r: DeviceResult) => {
      const v = r.reading;
      pull({
        outcome: done === 'clicked' && !v.click ? 'short' : done,
        reading: { value: v.value, unit: v.unit, si: 0, text: `${v.value} ${unitText(v.unit)}` },
        ...(v.angleDeg ? { angleDeg: v.angleDeg } : {}),
        ...(v.trace ? { trace: v.trace } : {}),
        device: r.tag,
        deviceSeq: r.seq,
      });
    },
    [pull, done],
  );

  const t = hand?.tool;
  const sends = !!t && (t.kind === 'electronic' || t.kind === 'electronic_angle' || t.kind === 'dial');
  const auto = prefs.auto && sends;
  const takes = live && byTool && !s?.gates.length && !confirming && !!here && !hand?.wait && !s?.heldBy && (!needsClear || clear === here);
  const known = [...(view?.entries ?? []).map((e) => e.event), ...run.waiting.filter((w) => !w.refused).map((w) => w.event)];
  const linked = useLiveTool({
    runId: live ? store?.id : undefined,
    tool: t,
    joint: plan?.joint.tag ?? '',
    pass: pass?.number ?? 0,
    number: confirming || !here ? undefined : (plan?.chalk[here - 1] ?? here),
    setting: hand?.setting ?? 0,
    ready: takes,
    asking: !!ask,
    auto,
    after: Math.max(0, ...known.map((e) => (e.device && e.device === t?.tag ? (e.deviceSeq ?? 0) : 0))),
    onResult,
  });

  function step(by: number) {
    if (!pass) return;
    const at = pass.order.indexOf(look ?? here ?? pass.order[0] ?? 1);
    setLook(pass.order[(at + by + pass.order.length) % pass.order.length]);
  }

  function pick(position: number) {
    if (!live || confirming) return;
    if (position === hand?.next?.fastener) {
      setOverride(undefined);
      setAsk(undefined);
      return;
    }
    const m = s?.fasteners[position - 1]?.marks[(s?.pass ?? 1) - 1];
    setAsk(m === 'done' || m === 'moved' || m === 'moved_ok' || m === 'over' ? { kind: 'done', position } : { kind: 'order', position });
  }

  if (!s || !plan || !pass || !hand) return <p className="empty">Read and Ready come first.</p>;
  const unit = unitText(hand.unit);
  const size = phone
    ? Math.max(160, Math.min(box.width - 60, 268))
    : Math.max(200, Math.min(box.width - 38, box.height - 34 - ((plan.others?.length ?? 0) > 0 ? 112 : 0), 584));
  const g = hand.group;
  const stage = plan.passes.filter((p) => p.kind === 'stage' && (!p.group || p.group === g.group));
  const aim = byTool && g.finalNm ? pass.torqueNm / g.finalNm : 1;
  const big = bigOf(pass, byTool, hand.setting);
  const bigText = big.text;
  const gates = plan.checks.filter((c) => s.gates.includes(c.code));
  const gate = gates.find((c) => c.code === gateCode) ?? gates[0];
  const several = (plan.others?.length ?? 0) > 0;
  const target =
    g.group && plan.group !== g.group ? plan.specification.others?.find((o) => o.group === g.group)?.target : plan.specification.target;
  const looked = look ? s.fasteners[look - 1] : undefined;
  const onlyHeldBack = s.pass > 0 && pass.of > 1 && pass.open > 0 && pass.open === pass.skipped + pass.short + pass.over;
  const band = (plan.houseRules.readingBandPct ?? 5) / 100;
  const final = pass.percent > 99.9 && g.allowedMax > 0;
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
          {several && <b>{g.groupName}, </b>}seen from {g.layout.seenFrom || 'the tool’s side'}
        </span>
        <span className="cap" style={{ right: 8, top: 8 }}>
          {g.finalNm ? 'torque at the nut, N·m' : 'share of the steps done'}
        </span>
        <div key={shake} className={shake ? 'short' : ''}>
          <GroupRosette
            size={size}
            group={g}
            chalk={plan.chalk}
            fasteners={s.fasteners}
            next={live && !s.heldBy && !gate ? here : undefined}
            others={live ? hand.others.flatMap((o) => (o.next ? [{ position: o.next.fastener, letter: o.letter }] : [])) : []}
            letter={hand.letter}
            prev={live && !s.heldBy && !confirming && hand.prev ? hand.prev : undefined}
            look={look}
            aim={aim}
            up={target?.form === 'torque' ? (target.plusPct ?? 5) / 100 : 0.05}
            down={target?.form === 'torque' ? (target.minusPct ?? 5) / 100 : 0.05}
            now={live}
            lines={stage.map((p) => (g.finalNm ? p.torqueNm / g.finalNm : p.percent / 100))}
            scale={
              phone
                ? []
                : stage.map((p) => ({
                    t: g.finalNm ? p.torqueNm / g.finalNm : 1,
                    text: num(p.torqueNm, 0),
                    now: live && Math.abs(p.torqueNm - pass.torqueNm) < 0.01,
                  }))
            }
            words={!phone}
            label={`${plan.joint.tag}, ${g.layout.count} ${g.noun || 'bolt'}s seen from ${g.layout.seenFrom || 'the tool’s side'}. Pass ${pass.number} of ${s.passes.length}. ${here ? `${capital(nameOf(here))} is next.` : ''} ${pass.done} of ${pass.of} done in this pass${s.exceptions.length ? `, ${s.exceptions.join(', ')}` : ''}.`}
            hub={
              g.layout.kind && g.layout.kind !== 'circle' ? undefined : (
                <Hub n={live ? Math.min(pass.done + 1, pass.of) : pass.done} of={`of ${pass.of}`} k={size / 200} />
              )
            }
            onPick={live ? pick : undefined}
          />
        </div>
        {!phone && legend}
        {several && !phone && <GroupStrip plan={plan} fasteners={s.fasteners} present={g.group} />}
        <ul className="sr" aria-label="Bolts of this pass">
          {pass.order.map((p) => {
            const f = s.fasteners[p - 1];
            return (
              <li key={p}>
                <button type="button" onClick={() => pick(p)} tabIndex={-1}>
                  {capital(nameOf(p))}, {p === here ? 'next' : (f?.state ?? '').replace('_', ' ')}
                  {byTool && `, ${num(f?.torqueNm ?? 0, 0)} of ${num(pass.torqueNm, 0)} newton metres`}
                </button>
              </li>
            );
          })}
        </ul>
      </section>
      {s.exceptions.length > 0 && <div className="exceptions">{s.exceptions.join(' · ')}</div>}
      <section className="do" ref={side.ref} {...question.guard}>
        <div className="sr" aria-live="polite">
          {s.announce}
        </div>
        {s.heldBy && live ? (
          <Held text={s.heldBy} onRelease={() => void keep({ kind: 'released' })} />
        ) : gate && present && store && !view?.record ? (
          <div className="gate">
            <div className="hd">
              <span className="b">Before {s.pass ? `pass ${s.pass}` : 'Prove'}</span>
              <span className="w">{s.pass ? pass.name : 'all passes are done'}: this comes first</span>
            </div>
            <GroupItems
              checks={gates}
              chosen={gate.code}
              state={(code) => s.checks.find((c) => c.code === code) as CheckState}
              onChoose={setGateCode}
            />
            <CheckPanel
              key={gate.code}
              check={gate}
              state={s.checks.find((c) => c.code === gate.code) as CheckState}
              run={run}
              onAnswered={() => setGateCode(undefined)}
              onSign={setSigning}
            />
          </div>
        ) : ask ? (
          <TightenAsk
            ask={ask}
            here={here}
            nextPosition={hand.next?.fastener}
            nameOf={nameOf}
            labelOf={labelOf}
            byTool={byTool}
            setting={hand.setting}
            graduation={t?.graduation ?? 1}
            unit={unit}
            scale={hand.unit}
            movedLimit={movedLimit}
            onAsk={setAsk}
            onOverride={(p) => {
              setOverride(p);
              setAsk(undefined);
            }}
            onLoosen={() => setWhy('loosen')}
            onHold={() => setWhy('hold')}
            onPull={pull}
            onKeep={(e) => void keep(e, true)}
          />
        ) : (
          <>
            <div className="hd">
              {live ? (
                confirming ? (
                  <>
                    <span className="b">
                      {hand.letter && `${hand.letter}: `}
                      {pressure ? 'Set the pressure' : 'Set the wrench'}
                    </span>
                    <span className="w">{hand.confirm}</span>
                  </>
                ) : here ? (
                  <>
                    <span className="b">
                      {hand.letter && `${hand.letter}: `}
                      {capital(nameOf(here))}
                    </span>
                    <span className="w">
                      {override ? 'out of order, by your choice' : (hand.wait ?? hand.next?.why)}
                      <span className="then">{!override && hand.next?.then.length ? ` · then ${hand.next.then.join(', ')}` : ''}</span>
                    </span>
                  </>
                ) : (
                  <>
                    <span className="b">{hand.letter} is done in this pass</span>
                    <span className="w">the next pass begins when the others are done</span>
                  </>
                )
              ) : (
                <span className="b" style={{ color: 'var(--ink)' }}>
                  {s.pass > 0 ? `Pass ${s.pass}, not open yet` : 'All passes are done'}
                </span>
              )}
            </div>
            {hand.others.length > 0 && live && (
              <p className="others">
                {hand.others.map((o) => (
                  <span key={o.letter}>
                    <b>{o.letter}</b> {o.person || 'nobody yet'}: {o.next ? o.next.name : 'done'}
                    {o.confirm ? ', still setting' : ''}
                  </span>
                ))}
              </p>
            )}
            <div className="num-row">
              <div
                className={`big${big.words ? ' words' : bigText.length === 3 ? ' three' : bigText.length > 3 ? ' four' : ''}`}
                data-testid="setting"
              >
                {bigText}
              </div>
              {phone ? (
                <div className="unit">
                  {big.unit ?? unit}
                  <small>
                    {byTool ? `on ${hand.name}` : (g.groupName ?? '')}
                    <br />
                    pass {pass.number} of {s.passes.length}
                    {several && <>, {g.groupName?.toLowerCase()}</>}
                  </small>
                </div>
              ) : (
                <PassTable state={s} onlyHeldBack={onlyHeldBack} />
              )}
            </div>
            {!phone && !byTool && (
              <div className="unit">
                {big.unit} <small>{big.under}</small>
              </div>
            )}
            {!phone && byTool && (
              <div className="unit">
                {unit}{' '}
                <small>
                  {pressure ? 'on the gauge of pump' : t?.kind === 'click' ? 'on the scale of click wrench' : 'on'} {t?.tag}
                  {hand.name !== t?.tag && `, through ${hand.name.split(' × ').slice(1).join(' and ')}`}
                </small>
              </div>
            )}
            {pass.caution && live && (
              <p className="finding stop">
                <b>Caution</b> {pass.caution}
              </p>
            )}
            {pass.opens && (
              <p className="opens">
                <svg width="34" height="22" viewBox="0 0 34 22" aria-hidden="true">
                  <path
                    d="M10 11H2M2 11l6 -6M2 11l6 6M24 11H32M32 11l-6 -6M32 11l-6 6"
                    style={{ fill: 'none', stroke: 'currentColor', strokeWidth: 2.4 }}
                  />
                </svg>
                <b>This opens:</b> {pass.opens}
              </p>
            )}
            {(pass.until || pass.datum || (!byTool && pass.why)) && (
              <p className="until">
                {pass.until && pass.kind !== 'effort' && (
                  <>
                    <b>Until:</b> {pass.until}{' '}
                  </>
                )}
                {pass.datum && (
                  <>
                    <b>From:</b> {pass.datum}.{' '}
                  </>
                )}
                {pass.turnDeg && (phone || pass.kind === 'turns') ? (
                  <>
                    <b>Turn:</b> {turnWords(pass.turnDeg)}.{' '}
                  </>
                ) : null}
                {pass.turnDeg ? `${markGoes(pass.turnDeg)}, seen from the nut end. ` : ''}
                {!byTool && pass.why}
              </p>
            )}
            <div className="chain">
              {byTool && <span>= {bothTorques(pass.torqueNm, plan.houseRules)} at the nut</span>}
              <button type="button" className="btn plain sm" style={{ height: 24, fontSize: 15 }} onClick={work.toggle}>
                {working ? 'close the working' : 'show the working'}
              </button>
            </div>
            {working && (
              <WorkingSheet
                workings={
                  several ? plan.workings.filter((w) => !w.title.includes(' · ') || w.title.endsWith(` · ${g.groupName}`)) : plan.workings
                }
                titles={['From the nut', 'Stages', 'What the', 'Torque']}
              />
            )}
            {!working && t && live && (
              <LiveView
                live={linked}
                tool={t}
                number={here ? plan.chalk[here - 1] : undefined}
                ready={takes}
                auto={auto}
                quiet={!sends}
                lowNm={final ? g.allowedMin : pass.torqueNm * (1 - band)}
                highNm={final ? g.allowedMax : pass.torqueNm * (1 + band)}
              />
            )}
            {!working && t && (confirming || !sends || !live) && (
              <div className="coach">
                <ToolCoach
                  tool={t}
                  setting={hand.setting}
                  coach={s.coach}
                  width={Math.max(300, side.width - 8)}
                  compact={!!phone}
                  pull={confirming && live ? (pressure ? undefined : g.setting) : g.pull}
                />
              </div>
            )}
            {looked && (
              <p className="m" style={{ fontSize: 16, fontWeight: 600 }}>
                {capital(looked.name)}: {looked.state.replace('_', ' ')}
                {looked.torqueNm > 0 && `, ${num(looked.torqueNm, 0)} N·m`}
              </p>
            )}
            <div className="phone-fixed">
              <div className="last-kept">
                {hand.lastKept ? (
                  <>
                    <b>Last kept</b> {hand.lastKept.name} {hand.lastKept.text}, <span className="m">{clock(hand.lastKept.at)}</span>
                  </>
                ) : (
                  <b>Nothing kept yet</b>
                )}
                <span className="then">{live && ` · ${hand.left} left in this pass, about ${num(s.minutes, 0)} min`}</span>
              </div>
              {live && (
                <TightenActs
                  hand={hand}
                  pass={pass}
                  done={done}
                  mark={mark}
                  label={here ? labelOf(here) : undefined}
                  checkPass={checkPass}
                  cleared={clear === here}
                  reaction={s.reaction}
                  onAct={act}
                  onConfirm={confirm}
                  onPull={pull}
                  onSkip={() => setWhy('skip')}
                  onNotRight={() => setAsk({ kind: 'not_right' })}
                  onMoved={() => (movedLimit > 0 ? setAsk({ kind: 'moved' }) : pull({ moved: true }))}
                />
              )}
            </div>
            <div className="keys">
              {live && hand.lastKept && (
                <button type="button" className="btn" onClick={() => setWhy('back')}>
                  <kbd>Z</kbd> take back {labelOf(hand.lastKept.fastener)}
                </button>
              )}
              {live && (
                <>
                  <button type="button" className="btn" onClick={() => setWhy('hold')}>
                    <kbd>H</kbd> hold the joint
                  </button>
                  {byTool && (
                    <button type="button" className="btn" onClick={tool.open}>
                      change tools
                    </button>
                  )}
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
                {hand.letter ? `this device: ${hand.letter}, sound, hand` : 'sound, voice, hand'}
              </button>
            </div>
          </>
        )}
      </section>
      <TightenDialogs
        why={why}
        state={s}
        plan={plan}
        run={run}
        hand={hand}
        pass={pass.number}
        here={here}
        name={nameOf(here)}
        tools={tools}
        device={settings}
        onHand={setHandIndex}
        onClose={() => setWhy(undefined)}
        onCloseTools={tool.close}
        onCloseDevice={setting.close}
        onKeep={(e) => void keep(e)}
      />
      {store && <SignDialog runId={store.id} request={signing} onClose={() => setSigning(undefined)} />}
    </div>
  );
}
