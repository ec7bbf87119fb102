import { Select, TextInput } from '@mantine/core';
import { useState } from 'react';
import type { GroupChoices, Offer, Plan, SetUp, Tool } from '../../api/client';
import type { LocalRun } from '../../api/runStore';
import { choicesOf } from '../../kit/choices';
import { Findings } from '../../kit/Findings';
import { num, unitText } from '../../kit/numbers';
import { ToolString } from '../../kit/ToolString';
import { groupOf } from '../../rosette/GroupRosette';
import { openScan, useTaker } from '../../scan/takers';
import { Never } from './RunDownWith';

/** What is taken in hand: the tool that is set, and the whole string when there is more. */
export type Take = (taken: { wrench: Tool; setUp?: SetUp; group?: string }) => void;

/** The set-up of an offer, from the tools as this device knows them; undefined when one is not known here. */
function setUpOf(
  o: Pick<Offer, 'tags'>,
  tools: Tool[],
  picked: GroupChoices,
): { wrench: Tool; setUp?: SetUp } | undefined {
  const string = o.tags.split('+').flatMap((tag) => tools.find((t) => t.tag === tag) ?? []);
  const wrench = string[0];
  if (!wrench || string.length !== o.tags.split('+').length) return undefined;
  return { wrench, setUp: string.length > 1 ? { string, adapterDeg: picked.adapterDeg } : undefined };
}

/** Takes a set-up in hand: chosen from the list, or by scanning a label. */
export function ToolsForm({
  plan,
  run,
  group,
  onTake,
}: {
  plan: Plan;
  run: LocalRun;
  group?: string | undefined;
  onTake: Take;
}) {
  const tools = run.view?.tools ?? [];
  const g = groupOf(plan, group);
  const picked = choicesOf(plan, g);
  // What the plan was made with stands first; a wrench that came into the crib since is offered alone.
  // One with a tool that was put aside since is not offered.
  const aside = new Set(tools.filter((t) => t.state !== 'in_service').map((t) => t.tag));
  const there = (set: string) => !set.split('+').some((tag) => aside.has(tag));
  const offers = (g.offers ?? []).filter((o) => (o.settings.length > 0 || o.usable) && there(o.tags));
  const known = new Set(offers.map((o) => o.tags));
  const alone = tools.filter(
    (t) =>
      !known.has(t.tag) &&
      !aside.has(t.tag) &&
      t.drive &&
      ['click', 'preset', 'dial', 'electronic', 'electronic_angle', 'screwdriver'].includes(t.kind),
  );
  const method = g.offers?.find((o) => o.tags === (picked.wrench ?? g.wrench?.tag))?.method;
  const planned = picked.wrench ?? g.wrench?.tag ?? '';
  const [chosen, setChosen] = useState<string | null>(null);
  const offered = (there(planned) ? planned : offers.find((o) => o.usable && o.method === method)?.tags) || null;
  const tags = chosen !== null && there(chosen) ? chosen : offered; // what is chosen may be put aside meanwhile
  const [scan, setScan] = useState('');
  const hit = (tag: string) =>
    offers.find((o) => o.tags.split('+').includes(tag))?.tags ?? tools.find((t) => t.tag.toUpperCase() === tag)?.tag;
  useTaker((code) => {
    const tags = code.kind === 'text' ? hit(code.text.toUpperCase()) : undefined;
    if (tags) setChosen(tags);
    return tags !== undefined;
  });
  const offer = offers.find((o) => o.tags === tags);
  const taken = tags ? setUpOf({ tags }, tools, picked) : undefined;
  const w = taken?.wrench;
  return (
    <>
      <Never list={(g.runDown ?? []).filter((r) => r.never && r.kind !== 'pipe_wrench')} />
      <div className="fields" style={{ margin: '8px 0' }}>
        <Select
          label="Tools in your hand"
          value={tags}
          onChange={setChosen}
          searchable
          data={[
            ...offers.map((o) => ({ value: o.tags, label: o.name + (o.usable ? '' : ' (no)') })),
            ...alone.map((t) => ({ value: t.tag, label: t.tag })),
          ].filter((x, i, all) => all.findIndex((y) => y.value === x.value) === i)}
        />
        <TextInput
          label="Or type its tag"
          rightSectionWidth={70}
          rightSection={
            <button type="button" className="btn sm" onClick={openScan}>
              Scan
            </button>
          }
          value={scan}
          onChange={(e) => {
            const v = e.currentTarget.value.trim().toUpperCase();
            setScan(v);
            const found = hit(v);
            if (found) setChosen(found);
          }}
        />
      </div>
      {offer && <ToolString pieces={offer.pieces} />}
      {w && (
        <table className="t">
          <tbody>
            <tr>
              <td>{w.tag} goes</td>
              <td className="n">
                {num(w.ratedMin)} to {num(w.ratedMax)} {unitText(w.unit)}
              </td>
            </tr>
            <tr>
              <td>One mark</td>
              <td className="n">
                {num(w.graduation)} {unitText(w.unit)}
              </td>
            </tr>
            <tr>
              <td>Certificate {w.certificate}</td>
              <td className="n">to {w.calibrationEnds}</td>
            </tr>
            {w.lock && (
              <tr>
                <td>Lock</td>
                <td>{w.lock}</td>
              </tr>
            )}
          </tbody>
        </table>
      )}
      {offer && !offer.usable && (
        <Findings list={offer.problems.map((p) => ({ severity: 'stop' as const, code: p, what: `${p}.` }))} />
      )}
      <div className="answers">
        <button
          type="button"
          className="btn now"
          disabled={!taken}
          onClick={() => taken && onTake({ ...taken, ...(g.group ? { group: g.group } : {}) })}
        >
          Take {offer?.name ?? tags}
        </button>
      </div>
    </>
  );
}
