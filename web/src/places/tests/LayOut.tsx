import { MultiSelect, Select, Textarea, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { getRouteApi } from '@tanstack/react-router';
import { useState } from 'react';
import { api, must, type PressureTestKind, useCrib } from '../../api/client';
import { Figure } from '../../kit/Figure';
import { useSheet } from '../../kit/sheet';
import { type Draft, draftOf, empty, filled, isHeld, media, type Step, specOf } from './draft';
import { shapes } from './KindShape';
import { StepsEditor } from './StepsEditor';
import './tests.css';

const route = getRouteApi('/joints/tests/new');

const kinds: [PressureTestKind, string, string][] = [
  ['hydrostatic', 'Water', 'Filled, raised in steps, held, and walked round'],
  ['pneumatic', 'Air', 'Only where water cannot be: a zone, barriers, a witness'],
  ['vacuum', 'Vacuum', 'Pumped down, and watched rising'],
  ['precharge', 'Gas pre-charge', 'An accumulator, against its value at the gas temperature'],
  ['purge', 'Purge cycles', 'A hydraulic circuit driven to and fro'],
];

/** A test is laid out: what is under pressure, with what, how far, and what it may lose. Core makes the usual steps and refuses what must not be. */
export function LayOutPage() {
  const { from, change, joint } = route.useSearch();
  const like = change ?? from;
  const old = useQuery({
    queryKey: ['test', like],
    queryFn: () => must(api.GET('/pressure-tests/{tag}', { params: { path: { tag: like ?? '' } } })),
    enabled: !!like,
    retry: false,
  });
  if (like && !old.data)
    return <p className="empty">{old.isError ? (old.error as Error).message : 'Fetching the test.'}</p>;
  const first = old.data ? draftOf(old.data.spec, change ?? '') : { ...empty, joints: joint ? [joint] : [] };
  return (
    <LayOutForm
      key={like}
      first={first}
      change={change}
      version={change ? (old.data?.version ?? 0) : 0}
      steps={old.data?.spec.steps}
    />
  );
}

function LayOutForm({
  first,
  change,
  version,
  steps,
}: {
  first: Draft;
  change: string | undefined;
  version: number;
  steps: Step[] | undefined;
}) {
  const qc = useQueryClient();
  const navigate = route.useNavigate();
  const [search, setSearch] = useState('');
  const [q] = useDebouncedValue(search, 150);
  const joints = useQuery({
    queryKey: ['joints', 'named', q],
    queryFn: () => must(api.GET('/joints', { params: { query: { q } } })),
    placeholderData: (last) => last,
  });
  const crib = useCrib();
  const sheet = useSheet({ ...first }, keep); // what is typed stays, whatever comes from the server
  const d = sheet.values;
  const [own, setOwn] = useState(steps); // undefined: as is usual
  const [changed] = useState(version); // and is a change of what was shown
  const put = sheet.put;
  const held = isHeld(d.kind);
  const stepsQuery = {
    kind: d.kind,
    designBar: filled(d.designBar),
    testBar: filled(d.testBar),
    holdMin: filled(d.holdMin),
  };
  const usual = useQuery({
    queryKey: ['test-steps', stepsQuery],
    queryFn: () => must(api.GET('/pressure-tests/steps', { params: { query: stepsQuery } })),
    enabled: held && typeof d.testBar === 'number' && Number.isFinite(d.testBar) && stepsQuery.holdMin > 0,
    retry: false,
    placeholderData: (last) => last,
  });
  const named = [
    ...d.joints.map((tag) => ({ value: tag, label: tag })),
    ...(joints.data?.rows ?? [])
      .filter((j) => !d.joints.includes(j.tag))
      .slice(0, 40)
      .map((j) => ({ value: j.tag, label: `${j.tag} ${j.name}` })),
  ];
  const gauges = (crib.data?.tools ?? []).filter((t) => t.tool.kind === 'pressure_gauge');
  const known = gauges.find((t) => t.tool.tag === d.gaugeTag);
  async function keep(draft: Draft) {
    const spec = specOf(draft, own ?? usual.data ?? []);
    const v = await must(api.POST('/pressure-tests', { body: { spec, version: changed } }));
    qc.setQueryData(['test', v.spec.tag], v);
    void qc.invalidateQueries({ queryKey: ['tests'] });
    void navigate({ to: '/joints/tests/$tag', params: { tag: v.spec.tag } });
  }
  return (
    <form className="page lay-out" onSubmit={sheet.submit}>
      <h1 className="title">{change ? `Change ${change}` : 'Lay out a test'}</h1>
      <div className="kinds" role="radiogroup" aria-label="With what">
        {kinds.map(([k, name, about]) => (
          // biome-ignore lint/a11y/useSemanticElements: a large touch target with two lines; a native radio cannot be one
          <button
            key={k}
            type="button"
            role="radio"
            aria-checked={d.kind === k}
            className={`btn name${d.kind === k ? ' on' : ''}`}
            onClick={() => {
              put({ kind: k, medium: media[k] });
              setOwn(undefined);
            }}
          >
            <svg width="30" height="20" viewBox="-1 0 30 20" aria-hidden="true">
              <path d={shapes[k]} style={{ fill: 'none', stroke: 'currentColor', strokeWidth: 2.2 }} />
            </svg>
            <span>
              <b>{name}</b>
              <br />
              {about}
            </span>
          </button>
        ))}
      </div>
      <div className="fields">
        <TextInput
          label="Tag of the test"
          placeholder="LT-09"
          {...sheet.field('tag')}
          maxLength={40}
          disabled={!!change}
        />
        <TextInput
          label="What is tested"
          placeholder="Seawater line of unit 2"
          {...sheet.field('title')}
          maxLength={80}
        />
        <TextInput
          label="Document it follows, with its revision"
          placeholder="TP-12 rev. B"
          {...sheet.field('procedure')}
          maxLength={80}
        />
        <TextInput label="Medium" {...sheet.field('medium')} maxLength={80} />
      </div>
      <MultiSelect
        label="Joints under pressure"
        placeholder={d.joints.length ? '' : 'type a tag or a name'}
        data={named}
        {...sheet.field('joints')}
        searchable
        searchValue={search}
        onSearchChange={setSearch}
        limit={40}
        maxValues={50}
      />
      <div className="fields">
        {(d.kind === 'hydrostatic' || d.kind === 'pneumatic') && (
          <Figure label="Design pressure, bar" unit="bar" {...sheet.field('designBar')} />
        )}
        {(held || d.kind === 'precharge') && (
          <Figure
            label={
              d.kind === 'vacuum'
                ? 'Down to, bar absolute'
                : d.kind === 'precharge'
                  ? 'Service pre-charge, bar'
                  : 'Test pressure at the gauge, bar'
            }
            unit="bar"
            {...sheet.field('testBar')}
          />
        )}
        {(d.kind === 'hydrostatic' || d.kind === 'pneumatic') && (
          <Figure label="Relief valve opens at, bar" unit="bar" {...sheet.field('mostBar')} />
        )}
        {held && (
          <>
            {!own && <Figure label="Hold, min" unit="min" {...sheet.field('holdMin')} />}
            <Figure
              label={d.kind === 'vacuum' ? 'May rise in the hold, bar' : 'May lose in the hold, bar'}
              unit="bar"
              {...sheet.field('lossBar')}
            />
          </>
        )}
        {d.kind === 'hydrostatic' && <Figure label="A degree makes, bar per °C" {...sheet.field('barPerC')} />}
        {(d.kind === 'pneumatic' || d.kind === 'vacuum') && (
          <Figure label="Closed volume, m³" {...sheet.field('volumeM3')} />
        )}
        {d.kind === 'pneumatic' && <Figure label="Nobody nearer than, m" {...sheet.field('zoneM')} />}
        {d.kind === 'precharge' && (
          <>
            <Figure label="Stated at, °C" unit="C" {...sheet.field('refC')} />
            <Figure label="Within, %" {...sheet.field('tolPct')} />
          </>
        )}
        {d.kind === 'purge' && <Figure label="Cycles each way" {...sheet.field('cycles')} />}
      </div>
      {d.kind === 'pneumatic' && (
        <Textarea
          label="Barriers, one a line: doors, ropes, people posted"
          {...sheet.field('barriers')}
          autosize
          minRows={2}
        />
      )}
      {d.kind !== 'purge' && (
        <div className="fields">
          {gauges.length > 0 && (
            <Select
              label="Gauge of the crib"
              data={gauges.map((t) => ({ value: t.tool.tag, label: `${t.tool.tag} ${t.tool.maker}` }))}
              value={known ? d.gaugeTag : null}
              clearable
              onChange={(v) => put({ gaugeTag: v ?? '' })}
            />
          )}
          <TextInput
            label={gauges.length ? 'Or another, by its label' : 'Gauge, by its label'}
            {...sheet.field('gaugeTag', 'gauge.tag')}
            maxLength={40}
          />
          {!known && (
            <>
              <Figure label="Its scale ends at, bar" unit="bar" {...sheet.field('rangeBar', 'gauge.rangeBar')} />
              <Figure label="From mark to mark, bar" unit="bar" {...sheet.field('markBar', 'gauge.markBar')} />
              <TextInput type="date" label="Certificate holds until" {...sheet.field('checkBy', 'gauge.checkBy')} />
            </>
          )}
        </div>
      )}
      {held && (own || (usual.data && usual.data.length > 0)) && (
        <section>
          <h2 className="rule">
            Steps<span className="r">{own ? 'as the document has them' : 'as is usual; the document decides'}</span>
          </h2>
          {own ? (
            <StepsEditor first={own} wrong={sheet.refusalOf('steps')} onChange={setOwn} />
          ) : (
            <ol className="steps">
              {usual.data?.map((s, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: steps have no name
                <li key={i}>
                  <b className="m">{s.bar} bar</b>
                  <span>
                    {s.min} min{s.test ? ', judged' : ''}
                    {s.look ? ', every joint is looked at' : ''}
                  </span>
                </li>
              ))}
            </ol>
          )}
          <div className="row-btns">
            <button type="button" className="btn sm" onClick={() => setOwn(own ? undefined : (usual.data ?? []))}>
              {own ? 'The usual ones' : 'Other steps'}
            </button>
          </div>
        </section>
      )}
      {sheet.rest() && (
        <p className="wrong" role="alert">
          {sheet.rest()}
        </p>
      )}
      <button type="submit" className="btn now wide" disabled={sheet.busy}>
        {change ? 'Keep the change' : 'Lay it out'}
      </button>
    </form>
  );
}
