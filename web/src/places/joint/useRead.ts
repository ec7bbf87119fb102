import { useDisclosure, useHotkeys } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { useNavigate } from '@tanstack/react-router';
import { useEffect, useRef, useState } from 'react';
import {
  api,
  type Choices,
  type GroupChoices,
  type JointDetail,
  must,
  type Plan,
  useProcedure,
} from '../../api/client';
import { runStore } from '../../api/device';
import type { LocalRun } from '../../api/runStore';
import type { components } from '../../api/schema';
import { useSession } from '../../api/session';
import { choicesOf, picking } from '../../kit/choices';
import { groupOf } from '../../rosette/GroupRosette';
import { orderWord, patterns } from './orders';

export interface ReadProps {
  joint: JointDetail | undefined;
  run: LocalRun;
  onChanged: () => void;
  bench?: { torque: number; from: string } | undefined; // a torque worked out on the bench, to become the target
  onBenchDone?: () => void;
}

/** What Read holds: the plan as it is or as it would be with other choices, and the way to begin. */
export function useRead({ joint, run, onChanged, bench, onBenchDone }: ReadProps) {
  const begun = !!run.view;
  const [choices, setChoices] = useState<Choices>({});
  const [shown, setShown] = useState<string>(); // group looked at
  const [working, work] = useDisclosure(false);
  const [editing, edit] = useDisclosure(!!bench, { onClose: onBenchDone });
  const [approving, approve] = useDisclosure(false);
  const [change, setChange] = useState<components['schemas']['LabChange']>();
  const [wrong, setWrong] = useState('');
  const [busy, setBusy] = useState(false);
  const why = useRef(''); // why the plan is right, while it is compared
  const { may } = useSession();
  const navigate = useNavigate();
  const tag = joint?.joint.tag ?? run.view?.joint.tag ?? '';
  const preview = useQuery({
    queryKey: ['joint', tag, 'plan', choices],
    queryFn: () => must(api.POST('/joints/{tag}/plan-preview', { params: { path: { tag } }, body: choices })),
    enabled: Object.keys(choices).length > 0,
    placeholderData: (last) => last,
    retry: false,
  });
  const changed = Object.keys(choices).length > 0;
  const base = begun && !changed ? run.view?.plan : joint?.plan;
  const plan: Plan | undefined = changed ? preview.data : base;
  const problem = changed && preview.isError ? (preview.error as Error).message : (joint?.planError ?? '');
  const pulled = run.view?.entries.some((e) => e.event.kind === 'pulled');
  const engineer = may('approve_plan');
  const maySpecify = may('putSpecification');
  useHotkeys([['w', work.toggle]]);
  useEffect(() => setWrong(''), []);

  async function begin(reason: string, says?: string) {
    setBusy(true);
    setWrong('');
    try {
      const other = !says && changed && plan?.houseRules.labCompare === 'compare';
      const found = other
        ? await must(api.POST('/joints/{tag}/lab/change', { params: { path: { tag } }, body: choices }))
        : undefined;
      if (found?.change) {
        why.current = reason;
        approve.close();
        setChange(found.change);
        return;
      }
      const body = { choices: says ? { ...choices, compared: says } : choices, reason };
      if (begun) {
        await must(api.POST('/joints/{tag}/plans', { params: { path: { tag } }, body }));
        if (run.view) await runStore(run.view.id).refresh();
        setChoices({});
      } else {
        const view = await must(api.POST('/joints/{tag}/runs', { params: { path: { tag } }, body }));
        await runStore(view.id).put(view);
      }
      onChanged();
      approve.close();
      setChange(undefined);
      void navigate({ to: '/joints/$tag', params: { tag }, search: {} });
    } catch (e) {
      setWrong((e as Error).message);
    } finally {
      setBusy(false);
    }
  }
  const press = () => (plan?.needsApproval.length ? approve.open() : void begin(''));
  const stops = plan?.findings.filter((f) => f.severity === 'stop') ?? [];
  const ready = !!plan && plan.passes.length > 0 && plan.toBeSupplied.length === 0 && stops.length === 0;
  useHotkeys([['Enter', () => !begun && ready && !busy && press()]]);
  const spec = plan?.specification ?? joint?.versions[0]?.specification;
  const g = plan ? groupOf(plan, shown) : undefined;
  const several = (plan?.groups.length ?? 0) > 1;
  const mine = plan && g ? plan.passes.filter((p) => !p.group || p.group === g.group) : [];
  const stages = mine.filter((p) => p.kind === 'stage');
  const order = (stages[0] ?? mine[0])?.order ?? [];
  const picked = plan && g ? choicesOf(plan, g) : {};
  const chosen = g?.offers?.find((o) => o.tags === picked.wrench);
  const set = (c: GroupChoices) => plan && g && setChoices((old) => picking(old, plan, g, c));
  const together = (n: number) => setChoices(({ together: _, ...old }) => (n > 1 ? { ...old, together: n } : old));
  const family = useProcedure(plan?.family ?? joint?.joint.family);
  const kin = family.data?.family.fasteners.find((x) => x.code === g?.group) ?? family.data?.family.fasteners[0];
  const patternData = patterns.filter((p) => !kin || kin.patterns.includes(p.value.replace('8', '')));
  const refused = Object.entries(kin?.refused ?? {})
    .sort(([a], [b]) => (b === 'cross' ? 1 : 0) - (a === 'cross' ? 1 : 0))
    .slice(0, 1)
    .map(([p, why]) => `not ${orderWord(p, 4)}: ${why}`)
    .join('');

  return {
    joint,
    tag,
    begun,
    pulled,
    changed,
    engineer,
    maySpecify,
    plan,
    spec,
    problem,
    wrong,
    busy,
    ready,
    group: g,
    several,
    stages,
    order,
    picked,
    chosen,
    patternData,
    refused,
    figures: family.data?.family.figures ?? [],
    family: family.data?.family,
    working: { shown: working, ...work },
    editing: { shown: editing, ...edit },
    approving: { shown: approving, ...approve },
    set,
    together,
    setShown,
    setChoices,
    change: { shown: change, close: () => setChange(undefined), take: (says: string) => void begin(why.current, says) },
    begin,
    press,
  };
}

/** What Read holds, for its parts. */
export type Reading = ReturnType<typeof useRead>;
