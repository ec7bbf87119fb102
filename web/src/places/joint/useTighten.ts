import { useDisclosure, useElementSize, useHotkeys, useMediaQuery } from '@mantine/hooks';
import { useCallback, useEffect, useState } from 'react';
import type { DeviceResult, RunEvent } from '../../api/client';
import type { LocalRun, RunStore } from '../../api/runStore';
import { useSession } from '../../api/session';
import { usePrefs } from '../../app/prefs';
import { demandOf } from '../../kit/demand';
import { unitText } from '../../kit/numbers';
import { notTaken, useQuestion } from '../../kit/question';
import type { SignRequest } from '../../kit/SignDialog';
import { firstOf } from '../../rosette/GroupRosette';
import { letGoWith } from './Ease';
import { feedback, listen, say } from './feedback';
import { handOf, isPressure, toolKinds, useHandIndex } from './hand';
import { useLiveTool } from './LiveTool';
import { byHand } from './RunDownWith';
import type { Ask } from './TightenAsk';
import type { Why } from './TightenDialogs';

export type TightenRun = LocalRun & { store: RunStore | undefined };

/** Everything the tightening view holds and can do; undefined before there is anything to tighten. */
export function useTighten(run: TightenRun, present: boolean) {
  const { person, may } = useSession();
  const [prefs] = usePrefs();
  const [handIndex, setHandIndex] = useHandIndex();
  const [override, setOverride] = useState<number>();
  const [look, setLook] = useState<number>();
  const [ask, setAsk] = useState<Ask>();
  const [why, setWhy] = useState<Why>();
  const [signing, setSigning] = useState<SignRequest>();
  const [chosenTool, setRunDown] = useState(byHand);
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
  const live = !!s && !!plan && !!store && !!person && present && s.station === 'tighten' && !view?.record;
  const pass = s?.pass ? s.passes[s.pass - 1] : s?.passes.at(-1);
  const hand = s && plan ? handOf(s, plan, handIndex) : undefined;
  const here = override ?? hand?.next?.fastener;
  const nameOf = (p: number | undefined) => (p ? (s?.fasteners[p - 1]?.name ?? '') : '');
  const labelOf = (p: number | undefined) => (p ? `${groupAt(p)?.face ?? ''}${plan?.chalk[p - 1] ?? p}` : '');
  const groupAt = (p: number) => (plan ? plan.groups.find((g) => p <= (g.offset ?? 0) + g.layout.count) : undefined);
  const mark = here && s?.pass ? s.fasteners[here - 1]?.marks[s.pass - 1] : undefined;
  const checkPass = pass?.kind === 'check';
  const movedLimit = pass?.movedDeg ?? 0;
  const done = s?.done ?? 'clicked';
  const runDown = pass?.kind === 'ease' && hand ? letGoWith(hand.group, chosenTool) : chosenTool;
  const byTool = toolKinds.has(pass?.kind ?? 'stage');
  const needsClear = !!hand?.group.clear && byTool;
  const confirming = !!hand?.confirm;
  // What the big button means: when it changes, a held or bounced key is not an answer to the new one.
  const question = useQuestion(
    `${pass?.number} ${here} ${mark} ${confirming} ${clear === here} ${s?.gates[0]} ${ask?.kind} ${s?.stoppedBy}`,
  );
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
      const good = !!event.outcome && !['short', 'over', 'clicked_still', 'replaced', 'stuck'].includes(event.outcome);
      const bad =
        event.kind === 'pulled' && (!good || event.moved || judged?.findings.some((f) => f.severity === 'caution'));
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
    async (change: Partial<RunEvent>, sure = false) => {
      if (!s || !pass || !here || handSetting === undefined) return;
      await keep(
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
          ...(!byTool && runDown.kind ? { method: runDown.kind, ...(runDown.tag ? { tool: runDown.tag } : {}) } : {}),
          ...change,
        },
        sure,
      );
    },
    [s, pass, here, handSetting, handNo, done, byTool, needsClear, clear, checkPass, runDown, keep],
  );

  // What is run up by hand may be kept in one press, each fastener as an entry of its own.
  const rest =
    live && s && pass?.kind === 'hand' && !s.gates.length && !s.stoppedBy && !ask
      ? pass.order.filter((f) => s.fasteners[f - 1]?.marks[pass.number - 1] === '')
      : [];
  const pullRest = useCallback(async () => {
    for (const fastener of rest) await pull({ fastener });
  }, [rest, pull]);

  const confirm = useCallback(
    (change: Partial<RunEvent> = {}) => {
      if (!pass || handSetting === undefined) return;
      void keep({
        kind: 'setting_confirmed',
        setting: handSetting,
        pass: pass.number,
        ...(handNo ? { hand: handNo } : {}),
        ...change,
      });
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
    if (s.stoppedBy || ask) return;
    if (confirming) {
      if (!pressure) confirm(); // a pressure is read twice: the second reading is typed
    } else if (mark === 'over') setWhy('loosen');
    else if (needsClear && here && clear !== here) setClear(here);
    else if (here && done !== 'reached' && done !== 'measured' && !s.gates.length) void pull({});
  }, [live, s, pass, ask, mark, here, confirming, pressure, needsClear, clear, done, settled, pull, confirm]);

  useHotkeys(
    [
      ['s', () => live && !confirming && setWhy('skip')],
      ['n', () => live && !confirming && setAsk({ kind: 'not_right' })],
      ['r', () => rest.length > 1 && void pullRest()],
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
      void pull({
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
  const takes =
    live &&
    byTool &&
    !s?.gates.length &&
    !confirming &&
    !!here &&
    !hand?.wait &&
    !s?.stoppedBy &&
    (!needsClear || clear === here);
  const known = [
    ...(view?.entries ?? []).map((e) => e.event),
    ...run.waiting.filter((w) => !w.refused).map((w) => w.event),
  ];
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
    setAsk(
      m === 'done' || m === 'moved' || m === 'moved_ok' || m === 'over'
        ? { kind: 'done', position }
        : { kind: 'order', position },
    );
  }

  if (!s || !plan || !pass || !hand) return undefined;
  const unit = unitText(hand.unit);
  const size = phone
    ? Math.max(160, Math.min(box.width - 60, 268))
    : Math.max(200, Math.min(box.width - 38, box.height - 34 - (plan.groups.length > 1 ? 112 : 0), 584));
  const g = hand.group;
  const stage = plan.passes.filter((p) => p.kind === 'stage' && (!p.group || p.group === g.group));
  const rounds = plan.passes.filter((p) => p.kind === 'ease' && p.group === g.group).map((p) => p.percent);
  const easing = pass.kind === 'ease';
  const aim = easing ? pass.percent / 100 : byTool && g.finalNm ? pass.torqueNm / g.finalNm : 1;
  const gates = plan.checks.filter((c) => s.gates.includes(c.code));
  const gate = gates.find((c) => c.code === gateCode) ?? gates[0];
  const several = plan.groups.length > 1;
  const target = demandOf(plan.specification, g.group, !g.group || firstOf(plan).group === g.group)?.target;
  const looked = look ? s.fasteners[look - 1] : undefined;
  const onlyHeldBack =
    s.pass > 0 &&
    (pass.of > 1 || (pass.tries?.length ?? 0) > 2) && // one that stands alone is tried some times first
    pass.open > 0 &&
    pass.open === pass.skipped + pass.short + pass.over;
  const band = (plan.houseRules.readingBandPct ?? 5) / 100;
  const final = pass.percent > 99.9 && g.allowedMax > 0;
  return {
    s,
    plan,
    pass,
    hand,
    store,
    view,
    prefs,
    present,
    live,
    mayLift: may('lift_stop') || (!!person && s.stoppedId === person.id),
    here,
    mark,
    done,
    byTool,
    confirming,
    pressure,
    checkPass,
    movedLimit,
    override,
    look,
    ask,
    why,
    signing,
    clear,
    runDown,
    setRunDown,
    shake,
    phone,
    box,
    side,
    question,
    linked,
    sends,
    auto,
    takes,
    tool: t,
    unit,
    size,
    group: g,
    stage,
    rounds,
    easing,
    aim,
    gates,
    gate,
    several,
    target,
    looked,
    onlyHeldBack,
    band,
    final,
    working: { shown: working, ...work },
    tools: { shown: tools, ...tool },
    device: { shown: settings, ...setting },
    nameOf,
    labelOf,
    setAsk,
    setWhy,
    setSigning,
    setOverride,
    setGateCode,
    setHandIndex,
    keep,
    pull,
    rest: rest.length,
    pullRest,
    confirm,
    act,
    pick,
  };
}

/** The state of the tightening view, for its parts. */
export type Work = NonNullable<ReturnType<typeof useTighten>>;

export const capital = (t: string) => t.charAt(0).toUpperCase() + t.slice(1);
