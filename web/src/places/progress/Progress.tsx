import { Select } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { getRouteApi, Link } from '@tanstack/react-router';
import { api, must, type ProgressView, usePackages } from '../../api/client';
import { day, when } from '../../kit/numbers';
import './progress.css';

const route = getRouteApi('/progress');

/** How far a work package has come against its plan: one page for the morning meeting. */
export function ProgressPlace() {
  const search = route.useSearch();
  const navigate = route.useNavigate();
  const packages = usePackages();
  const code = search.package ?? packages.data?.[0]?.code;
  const q = useQuery({
    queryKey: ['progress', code],
    queryFn: () => must(api.GET('/packages/{code}/progress', { params: { path: { code: code ?? '' } } })),
    enabled: !!code,
    refetchInterval: 60_000,
  });
  const v = q.data;
  return (
    <div className="page progress">
      <div className="row-btns">
        <h1 className="title">Progress</h1>
        <span>of</span>
        <Select
          aria-label="Work package"
          value={code ?? null}
          onChange={(p) => p && void navigate({ search: { package: p }, replace: true })}
          data={(packages.data ?? []).map((p) => ({ value: p.code, label: `${p.code} ${p.name}` }))}
          searchable
          allowDeselect={false}
        />
        <span className="sp" />
        {code && (
          <>
            <a className="btn sm" href={`/api/packages/${encodeURIComponent(code)}/progress.pdf`}>
              One page as PDF
            </a>
            <Link to="/shift" search={{ package: code }} className="btn sm">
              To the shift
            </Link>
          </>
        )}
      </div>
      {q.isError && (
        <p className="wrong" role="alert">
          {(q.error as Error).message}
        </p>
      )}
      {packages.isSuccess && !code && <p className="empty">No work package yet. Give joints one in the register.</p>}
      {v && <Body v={v} />}
    </div>
  );
}

function Body({ v }: { v: ProgressView }) {
  return (
    <>
      <p className="how-far" role="status">
        <b>
          {v.done.length} of {v.total} joints accepted.
        </b>{' '}
        {!v.inForce
          ? 'No plan is in force: put one in force in the shift, and this page holds the work against it.'
          : v.behind > 0
            ? `${v.behind} behind the plan.`
            : v.behind < 0
              ? `${-v.behind} ahead of the plan.`
              : 'As planned.'}
      </p>
      {v.finish && (
        <dl className="ends">
          <div>
            <dt>Done by the plan</dt>
            <dd>{moment(v.finish)}</dd>
          </div>
          <div>
            <dt>in 80 of 100 runs of it</dt>
            <dd>{moment(v.p80)}</dd>
          </div>
          <div>
            <dt>at the pace of the last day</dt>
            <dd>{v.forecast ? moment(v.forecast) : 'nothing was done in it'}</dd>
          </div>
        </dl>
      )}
      <Curves v={v} />
      <h2 className="rule">By area</h2>
      <ul className="areas">
        {v.areas.map((a) => (
          <li key={a.area}>
            <span>{a.area}</span>
            <svg
              width="100%"
              height="18"
              viewBox={`0 0 ${Math.max(1, a.total)} 1`}
              preserveAspectRatio="none"
              aria-hidden="true"
            >
              <rect width={a.total} height="1" className="of" />
              <rect width={a.done} height="1" className="done" />
              <rect x={a.done} width={a.inHand} height="1" className="hand" />
              <rect x={a.total - a.stopped} width={a.stopped} height="1" className="stopped" />
            </svg>
            <span className="n">
              {a.done} of {a.total}
              {a.inHand > 0 && `, ${a.inHand} in hand`}
              {a.stopped > 0 && `, ${a.stopped} stopped`}
            </span>
          </li>
        ))}
      </ul>
      <Lines title="Behind, and why" list={v.says} />
      <Lines title="Stopped" list={v.stopped} />
    </>
  );
}

function Lines({ title, list }: { title: string; list: string[] }) {
  if (list.length === 0) return null;
  return (
    <>
      <h2 className="rule">{title}</h2>
      <ul className="lines">
        {list.map((l) => (
          <li key={l}>{l}</li>
        ))}
      </ul>
    </>
  );
}

const moment = (iso: string | undefined) => (iso ? `${day(iso)} ${new Date(iso).toTimeString().slice(0, 5)}` : '');
const tall = 220;

/** Joints accepted over time: heavy as they were, broken as planned, now an upright. */
function Curves({ v }: { v: ProgressView }) {
  const { ref, width } = useElementSize();
  const wide = Math.max(280, width || 900);
  const now = Date.parse(v.now);
  const done = v.done.map((t) => Date.parse(t));
  const planned = v.planned.map((t) => Date.parse(t));
  const all = [...done, ...planned, now];
  const [first, last] = [Math.min(...all), Math.max(...all)];
  if (v.total === 0 || last <= first) return null;
  const x = (t: number) => 34 + ((wide - 50) * (t - first)) / (last - first);
  const y = (n: number) => tall - 26 - ((tall - 44) * n) / v.total;
  const steps = (list: number[], end: number) =>
    `M34 ${y(0)}${list.map((t, i) => `H${x(t)}V${y(i + 1)}`).join('')}H${x(end)}`;
  return (
    <div ref={ref}>
      <svg
        width={wide}
        height={tall}
        role="img"
        aria-label={`${v.done.length} of ${v.total} joints accepted by ${when(v.now)}; ${v.done.length + v.behind} were planned by then`}
      >
        <path d={`M34 ${y(0)}H${wide - 16}M34 ${y(0)}V12`} className="axis" />
        <text x="28" y={y(v.total) + 5} textAnchor="end">
          {v.total}
        </text>
        <text x="28" y={y(0) + 5} textAnchor="end">
          0
        </text>
        {planned.length > 0 && <path d={steps(planned, last)} className="planned" />}
        <path d={steps(done, now)} className="was" />
        <path d={`M${x(now)} 14V${y(0)}`} className="now" />
        <text x={Math.min(wide - 40, x(now) + 5)} y="22">
          now
        </text>
        <text x="34" y={tall - 8}>
          {moment(new Date(first).toISOString())}
        </text>
        <text x={wide - 16} y={tall - 8} textAnchor="end">
          {moment(new Date(last).toISOString())}
        </text>
      </svg>
      {planned.length > 0 && <p className="dim">Heavy: accepted. Broken: as planned.</p>}
    </div>
  );
}
