import { Select, TextInput } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { getRouteApi, Link } from '@tanstack/react-router';
import { useState } from 'react';
import { api, must, type ShiftActivity, type ShiftPlan, usePackages } from '../../api/client';
import { useSession } from '../../api/session';
import { clock, when } from '../../kit/numbers';
import { Glyph, TagPlate } from '../../rosette/Glyph';
import { hours, laneOf, ruler, worked } from './board';
import './shift.css';

const route = getRouteApi('/shift');
const hm = (iso: string) => clock(iso).slice(0, 5);
const dayName = (t: number | string) => new Date(t).toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric' });
const minutes = (a: ShiftActivity) => Math.round((Date.parse(a.end) - Date.parse(a.start)) / 60_000);
const nameOf = (a: ShiftActivity) => `${a.tag} ${a.kind}`;

const more = Array.from({ length: 14 }, (_, i) => ({
  value: String(i + 1),
  label: i === 0 ? 'no more days' : `${i} more`,
}));

/** Who does what at the joints of a work package, with which tool, by when. */
export function ShiftPlace() {
  const search = route.useSearch();
  const navigate = route.useNavigate();
  const packages = usePackages();
  const [list, setList] = useState(() => matchMedia('(max-width: 700px)').matches);
  const [longer, setLonger] = useState(false);
  const code = search.package ?? packages.data?.[0]?.code;
  const { may } = useSession();
  const qc = useQueryClient();
  const force = useQuery({
    queryKey: ['shift in force', code],
    queryFn: () => must(api.GET('/packages/{code}/shift/in-force', { params: { path: { code: code ?? '' } } })),
    enabled: !!code,
    refetchInterval: 30_000,
  });
  const held = force.data && force.data.version > 0 ? force.data : undefined;
  const asked = held?.ask.shift;
  const ask = {
    day: search.day ?? held?.ask.day ?? tomorrow(),
    days: search.days ?? held?.ask.days ?? 1,
    from: search.from ?? asked?.from ?? '07:00',
    to: search.to ?? asked?.to ?? '15:30',
    breakFrom: search.breakFrom ?? asked?.breakFrom ?? '12:00',
    breakTo: search.breakTo ?? asked?.breakTo ?? '12:30',
  };
  // What is asked otherwise than the plan in force is planned anew; so is the same, when somebody says so.
  const same =
    held &&
    ask.day === held.ask.day &&
    ask.days === held.ask.days &&
    (['from', 'to', 'breakFrom', 'breakTo'] as const).every((k) => ask[k] === asked?.[k]);
  const fresh = !same || search.anew === true;
  const set = (change: Partial<typeof search>) =>
    void navigate({ search: (old) => ({ ...old, ...change }), replace: true });
  const plan = useQuery({
    queryKey: ['shift', code, ask, longer],
    queryFn: () =>
      must(api.GET('/packages/{code}/shift', { params: { path: { code: code ?? '' }, query: { ...ask, longer } } })),
    enabled: !!code && force.isSuccess && fresh,
    placeholderData: (last) => last,
    staleTime: 60_000,
    retry: false,
  });
  const take = useMutation({
    mutationFn: () => {
      const { day, days, ...shift } = ask;
      return must(
        api.PUT('/packages/{code}/shift/in-force', {
          params: { path: { code: code ?? '' }, query: { after: force.data?.version ?? 0 } },
          body: { day, days, shift, longer },
        }),
      );
    },
    onSuccess: (f) => {
      qc.setQueryData(['shift in force', code], f);
      void qc.invalidateQueries({ queryKey: ['today'] });
      set({ anew: undefined });
    },
  });
  const p = fresh ? plan.data : held?.plan;
  const chosen = p?.activities.find((a) => nameOf(a) === search.at) ?? p?.activities[0];
  const choose = (a: ShiftActivity) => set({ at: nameOf(a) });
  return (
    <div className="shift">
      <search className="sentence">
        <h1 className="title">Shift</h1>
        <span>for</span>
        <Select
          aria-label="Work package"
          value={code ?? null}
          onChange={(v) => v && set({ package: v, at: undefined })}
          data={(packages.data ?? []).map((x) => ({ value: x.code, label: `${x.code} ${x.name}` }))}
          searchable
          allowDeselect={false}
          w={210}
        />
        <span>on</span>
        <TextInput
          aria-label="First day"
          type="date"
          value={ask.day}
          onChange={(e) => set({ day: e.currentTarget.value || undefined })}
        />
        <span>and</span>
        <Select
          aria-label="Days"
          value={String(ask.days)}
          onChange={(v) => set({ days: more.findIndex((m) => m.value === v) + 1 })}
          data={more}
          allowDeselect={false}
          w={140}
        />
        <div className="span">
          <span>from</span>
          <TextInput
            aria-label="Begins at"
            type="time"
            value={ask.from}
            onChange={(e) => set({ from: e.currentTarget.value || undefined })}
          />
          <span>to</span>
          <TextInput
            aria-label="Ends at"
            type="time"
            value={ask.to}
            onChange={(e) => set({ to: e.currentTarget.value || undefined })}
          />
        </div>
        <div className="span">
          <span>break</span>
          <TextInput
            aria-label="Break from"
            type="time"
            value={ask.breakFrom}
            onChange={(e) => set({ breakFrom: e.currentTarget.value })}
          />
          <span>to</span>
          <TextInput
            aria-label="Break to"
            type="time"
            value={ask.breakTo}
            onChange={(e) => set({ breakTo: e.currentTarget.value })}
          />
        </div>
      </search>
      {packages.isSuccess && !code && <p className="empty">No work package yet. Give joints one in the register.</p>}
      {plan.isError && (
        <p className="wrong" role="alert">
          {(plan.error as Error).message}
        </p>
      )}
      {take.isError && (
        <p className="wrong" role="alert">
          {(take.error as Error).message}
        </p>
      )}
      {code && !p && !plan.isError && <p className="empty">Planning.</p>}
      {p && (
        <>
          <div className="verdict-line" role="status">
            <div className="how">
              <HowGood p={p} />
              {!fresh && held && (
                <p>
                  In force since {when(held.at)}, by {held.by}.
                </p>
              )}
              {fresh && held && <Against p={p} />}
            </div>
            <span className="sp" />
            <button type="button" className={`btn sm${list ? '' : ' on'}`} onClick={() => setList(false)}>
              Board
            </button>
            <button type="button" className={`btn sm${list ? ' on' : ''}`} onClick={() => setList(true)}>
              List
            </button>
            <button type="button" className="btn sm" onClick={() => print()}>
              Print
            </button>
            {fresh && !p.best && !longer && p.activities.length > 0 && (
              <button type="button" className="btn sm" onClick={() => setLonger(true)}>
                Look longer
              </button>
            )}
            {!fresh && (
              <button type="button" className="btn sm" onClick={() => set({ anew: true })}>
                Plan again
              </button>
            )}
            {fresh && held && (
              <button
                type="button"
                className="btn sm"
                onClick={() => void navigate({ search: { package: code }, replace: true })}
              >
                Back to the one in force
              </button>
            )}
            {fresh && may('putShiftInForce') && p.activities.length > 0 && (
              <button
                type="button"
                className="btn now"
                disabled={take.isPending || plan.isFetching}
                onClick={() => take.mutate()}
              >
                Use this plan
              </button>
            )}
            {plan.isFetching && <span className="dim">looking</span>}
          </div>
          {p.activities.length === 0 ? (
            <p className="empty">
              {p.forbids.length > 0
                ? 'Give it more time, or look below at what stands in the way.'
                : 'Nothing of this package is to be planned: what is left of it stands below.'}
            </p>
          ) : list ? (
            <List p={p} />
          ) : (
            <div className="board-and">
              <Board p={p} chosen={chosen} onChoose={choose} />
              {chosen && <Chosen a={chosen} p={p} />}
            </div>
          )}
          <Left p={p} />
        </>
      )}
    </div>
  );
}

function tomorrow(): string {
  const d = new Date();
  d.setDate(d.getDate() + 1);
  return `${d.getFullYear()}-${String(d.getMonth() + 1).padStart(2, '0')}-${String(d.getDate()).padStart(2, '0')}`;
}

function HowGood({ p }: { p: ShiftPlan }) {
  const left = p.joints.filter((j) => j.left === 'does not fit').length;
  if (p.activities.length === 0) return <b>{left > 0 ? 'None of the joints fits.' : 'No work to plan.'}</b>;
  const over = Math.round((Date.parse(p.finish) - Date.parse(p.bound)) / 60_000);
  const done = `${dayName(p.finish)} ${hm(p.finish)}`;
  return (
    <p>
      <b>{left > 0 ? `${left} of the joints do not fit.` : `Done by ${done}.`}</b>{' '}
      {left > 0
        ? `The others are done by ${done}.`
        : p.best
          ? 'No plan ends earlier.'
          : `No plan ends before ${dayName(p.bound)} ${hm(p.bound)}: ${p.boundBy}. This plan is ${over} min over that.`}
    </p>
  );
}

/** What a new plan does to the one in force. */
function Against({ p }: { p: ShiftPlan }) {
  return (
    <p>
      {p.moved.length === 0
        ? 'Nothing that is near moves against the plan in force.'
        : `Against the plan in force ${p.moved.length === 1 ? 'one part moves' : `${p.moved.length} parts move`}: ${p.moved.slice(0, 4).join(', ')}${p.moved.length > 4 ? ` and ${p.moved.length - 4} more` : ''}.`}
      {p.costs > 0 && ` Keeping what is near as announced costs ${p.costs} min.`}
    </p>
  );
}

const lane = 30;
const names = 118;
const head = 44;

/** Lanes of people and of tools over the time at work. */
function Board({
  p,
  chosen,
  onChoose,
}: {
  p: ShiftPlan;
  chosen: ShiftActivity | undefined;
  onChoose: (a: ShiftActivity) => void;
}) {
  const { ref, width } = useElementSize();
  const wide = Math.max(640, (width || 900) - names - 30);
  const open = worked(p.open, p.finish);
  const { stretches, x } = ruler(open, wide);
  const people = p.people.filter((n) => laneOf(p.activities, 'people', n).length > 0);
  const free = p.people.filter((n) => !people.includes(n));
  const tools = p.tools.slice(0, 8);
  const lanes = [
    ...people.map((name) => ({ name, of: 'people' as const })),
    ...tools.map((name) => ({ name, of: 'tools' as const })),
  ];
  const top = (i: number) => head + i * lane + (i >= people.length ? 26 : 0);
  const tall = top(lanes.length) + 8;
  const breaks = open.slice(1).flatMap((o, i) => {
    const before = open[i];
    return before &&
      stretches.some(
        (s) => s.from < Date.parse(o.from) && Date.parse(before.to) < s.to && s.from <= Date.parse(before.from),
      )
      ? [[before.to, o.from] as const]
      : [];
  });
  return (
    <div className="board" ref={ref}>
      {/* biome-ignore lint/a11y/useSemanticElements: a drawing with buttons in it is no fieldset */}
      <svg
        width={names + wide + 30}
        height={tall}
        role="group"
        aria-label="Who does what when; the same stands in the list"
      >
        <g transform={`translate(${names} 0)`}>
          {stretches.map((s) => (
            <g key={s.from}>
              <text x={s.left} y="14" className="day">
                {dayName(s.from)}
              </text>
              <rect x={s.left} y={head - 4} width={s.right - s.left} height={tall - head} className="at-work" />
            </g>
          ))}
          {breaks.map(([from, to]) => (
            <rect
              key={from}
              x={x(Date.parse(from))}
              y={head - 4}
              width={x(Date.parse(to)) - x(Date.parse(from))}
              height={tall - head}
              className="rest"
            />
          ))}
          {hours(stretches).map((h) => (
            <g key={h.at}>
              <text x={h.x} y="34" className="hour" textAnchor="middle">
                {hm(new Date(h.at).toISOString())}
              </text>
              <path d={`M${h.x} ${head - 4}V${tall}`} className="grid-line" />
            </g>
          ))}
        </g>
        {tools.length > 0 && (
          <text x="0" y={top(people.length) - 8} className="lane-head">
            Tools, one place at a time
          </text>
        )}
        {lanes.map((l, i) => (
          <g key={`${l.of} ${l.name}`} transform={`translate(0 ${top(i)})`}>
            <text x="0" y={lane - 11} className="lane-name">
              {l.name}
            </text>
            <path d={`M0 ${lane - 2}H${names + wide}`} className="lane-line" />
            <g transform={`translate(${names} 2)`}>
              {laneOf(p.activities, l.of, l.name).map((a) => (
                <Bar
                  key={nameOf(a)}
                  a={a}
                  x={x}
                  chosen={chosen !== undefined && nameOf(a) === nameOf(chosen)}
                  onChoose={onChoose}
                />
              ))}
            </g>
          </g>
        ))}
      </svg>
      {free.length > 0 && <p className="dim">Free: {free.join(', ')}.</p>}
      <p className="legend dim">
        <Sample kind="prepare" /> prepare <Sample kind="hold" /> hold or witness <Sample kind="lubricate" /> lubricate{' '}
        <Sample kind="tighten" /> tighten <Sample kind="prove" /> prove
      </p>
    </div>
  );
}

function Sample({ kind }: { kind: ShiftActivity['kind'] }) {
  return (
    <svg width="30" height="16" aria-hidden="true">
      <rect x="1" y="2" width="28" height="12" className={`bar-${kind}`} />
    </svg>
  );
}

function Bar({
  a,
  x,
  chosen,
  onChoose,
}: {
  a: ShiftActivity;
  x: (t: number) => number;
  chosen: boolean;
  onChoose: (a: ShiftActivity) => void;
}) {
  const from = x(Date.parse(a.start));
  const width = Math.max(3, x(Date.parse(a.end)) - from);
  return (
    // biome-ignore lint/a11y/useSemanticElements: a bar of a drawing; a native button cannot stand in one
    <g
      className={`bar bar-of-${a.kind}${chosen ? ' chosen' : ''}`}
      role="button"
      tabIndex={0}
      aria-label={`${nameOf(a)}, ${hm(a.start)} to ${hm(a.end)}, ${a.people.join(', ')}`}
      onClick={() => onChoose(a)}
      onKeyDown={(e) => {
        if (e.key === 'Enter' || e.key === ' ') {
          e.preventDefault();
          onChoose(a);
        }
      }}
    >
      <rect x={from} y="0" width={width} height={lane - 8} className={`bar-${a.kind}`} />
      {width > 54 && (
        <text x={from + 4} y={lane - 14}>
          {a.tag}
        </text>
      )}
    </g>
  );
}

/** The chosen part of the work, and why it begins no earlier. */
function Chosen({ a, p }: { a: ShiftActivity; p: ShiftPlan }) {
  const joint = p.joints.find((j) => j.tag === a.tag);
  const all = p.activities.filter((x) => x.tag === a.tag);
  return (
    <aside className="chosen-job" aria-label="The chosen part of the work">
      <div className="who-line">
        <TagPlate text={a.tag} size={18} />
        <b>{joint?.name}</b>
      </div>
      <h2>{hm(a.start)}, no earlier</h2>
      <p>
        {a.kind}, {minutes(a)} min, ends {hm(a.end)}
        {dayName(a.end) !== dayName(a.start) ? ` ${dayName(a.end)}` : ''}. {a.people.join(' and ')}
        {a.tools.length > 0 && ` with ${a.tools.join(' + ')}`}.
      </p>
      <h3 className="rule">What holds it</h3>
      <p className="because">{a.why}</p>
      <h3 className="rule">The joint</h3>
      <table className="t">
        <tbody>
          {all.map((x) => (
            <tr key={x.kind}>
              <td className="m">{hm(x.start)}</td>
              <td>{x === a ? <b>{x.kind}</b> : x.kind}</td>
              <td>{x.people.join(', ')}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <Link to="/joints/$tag" params={{ tag: a.tag }} className="btn">
        Open {a.tag}
      </Link>
    </aside>
  );
}

/** The same for each person, one's own first, in order: for phone, print and screen reader. */
function List({ p }: { p: ShiftPlan }) {
  const { person } = useSession();
  const mine = (name: string) => name === person?.name;
  return (
    <div className="shift-list">
      {[...p.people.filter(mine), ...p.people.filter((n) => !mine(n))]
        .map((name) => ({ name, acts: laneOf(p.activities, 'people', name) }))
        .filter((l) => l.acts.length > 0)
        .map((l) => (
          <section key={l.name}>
            <h2 className="rule">{mine(l.name) ? `${l.name}, you` : l.name}</h2>
            <ol>
              {l.acts.map((a) => {
                const j = p.joints.find((x) => x.tag === a.tag);
                return (
                  <li key={nameOf(a)}>
                    <span className="m when">
                      {p.open.length > 2 && `${dayName(a.start)} `}
                      {hm(a.start)} to {hm(a.end)}
                    </span>
                    <Glyph family={j?.family} count={j?.bolts ?? 0} state={j?.glyph ?? 'waiting'} size={36} />
                    <span>
                      <Link to="/joints/$tag" params={{ tag: a.tag }} className="m">
                        {a.tag}
                      </Link>{' '}
                      <b>{a.kind}</b>
                      {a.tools.length > 0 && ` with ${a.tools.join(' + ')}`}
                      {a.people.length > 1 && `, and ${a.people.filter((n) => n !== l.name).join(', ')}`}
                      <small>{a.why}</small>
                    </span>
                  </li>
                );
              })}
            </ol>
          </section>
        ))}
    </div>
  );
}

/** Joints of the package that are not in the plan, and why; what cannot all hold. */
function Left({ p }: { p: ShiftPlan }) {
  const left = p.joints.filter((j) => j.left);
  if (left.length === 0) return null;
  return (
    <section className="shift-left">
      <h2 className="rule">Not in this plan</h2>
      {p.forbids.map((f) => (
        <p key={f} className="finding">
          {f}
        </p>
      ))}
      <ul>
        {left.map((j) => (
          <li key={j.tag}>
            <Glyph family={j.family} count={j.bolts} state={j.glyph} size={28} />
            <Link to="/joints/$tag" params={{ tag: j.tag }} className="m">
              {j.tag}
            </Link>
            <span>{j.left}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
