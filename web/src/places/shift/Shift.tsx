import { Select, TextInput } from '@mantine/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { getRouteApi } from '@tanstack/react-router';
import { useState } from 'react';
import { api, must, type ShiftActivity, type ShiftPlan, usePackages } from '../../api/client';
import { useSession } from '../../api/session';
import { when } from '../../kit/numbers';
import { Board } from './Board';
import { Chosen, Left, List } from './Parts';
import { dayName, hm, nameOf } from './words';
import './shift.css';

const route = getRouteApi('/shift');

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
