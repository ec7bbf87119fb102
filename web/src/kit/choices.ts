import type { Choices, FastenerGroup, GroupChoices, Plan } from '../api/client';

const isOf = (plan: Plan, group: FastenerGroup) => {
  const first = !group.group || group.group === plan.groups[0]?.group;
  return (c: GroupChoices) => (c.group ?? '') === (group.group ?? '') || (first && !c.group);
};

/** What was picked for a group of a plan. */
export const choicesOf = (plan: Plan, group: FastenerGroup): GroupChoices =>
  plan.choices.groups?.find(isOf(plan, group)) ?? {};

/** Choices with something else picked for a group of a plan. */
export function picking(choices: Choices, plan: Plan, group: FastenerGroup, now: GroupChoices): Choices {
  const mine = isOf(plan, group);
  const old = choices.groups ?? [];
  const next = { ...(group.group ? { group: group.group } : {}), ...old.find(mine), ...now };
  return { ...choices, groups: [...old.filter((c) => !mine(c)), next] };
}
