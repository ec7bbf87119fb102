import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { getRouteApi, Link } from '@tanstack/react-router';
import { memo } from 'react';
import {
  api,
  type DossierEntry as Entry,
  type DossierGap as Gap,
  must,
  type DossierView as View,
} from '../../api/client';
import { useSession } from '../../api/session';
import { num, when } from '../../kit/numbers';
import { Glyph, glyphWords, TagPlate } from '../../rosette/Glyph';
import { Edge } from './Edge';
import { chaptersOf, minutesLeft, spansOf } from './edge';
import './books.css';

const route = getRouteApi('/books/$code');

/** The hand-over book of a work package: what it holds leaf by leaf, what is missing and who has it, and the making of it. */
export function BookPage() {
  const { code } = route.useParams();
  const { may } = useSession();
  const qc = useQueryClient();
  const key = ['books', code];
  const book = useQuery({
    queryKey: key,
    queryFn: () => must(api.GET('/packages/{code}/dossier', { params: { path: { code } } })),
    refetchInterval: (q) => (q.state.data?.last?.state === 'making' ? 700 : 15_000),
  });
  const kept = (v: View) => {
    qc.setQueryData(key, v);
    void qc.invalidateQueries({ queryKey: ['books making'] });
  };
  const make = useMutation({
    mutationFn: (withGaps: boolean) =>
      must(api.POST('/packages/{code}/dossier', { params: { path: { code } }, body: { withGaps } })),
    onSuccess: kept,
  });
  const stop = useMutation({
    mutationFn: (id: string) => must(api.POST('/dossiers/{id}/stop', { params: { path: { id } } })),
    onSuccess: kept,
  });
  const ask = useMutation({
    mutationFn: () => must(api.POST('/packages/{code}/dossier/ask', { params: { path: { code } } })),
    onSuccess: kept,
  });
  const v = book.data;
  const wrong = (make.error ?? stop.error ?? ask.error ?? (v ? null : book.error)) as Error | null;
  const making = v?.last?.state === 'making' ? v.last : undefined;
  return (
    <div className="page book-page">
      <div className="head">
        <TagPlate text={code} size={17} />
        <h1 className="title">{v ? `Hand-over book, ${v.book.name}` : 'Hand-over book'}</h1>
        <p role="status">{v && <HowItStands v={v} />}</p>
        {making && may('stopDossier') && (
          <button type="button" className="btn sm" disabled={stop.isPending} onClick={() => stop.mutate(making.id)}>
            Stop making it
          </button>
        )}
      </div>
      {wrong && (
        <p className="wrong" role="alert">
          {wrong.message}
        </p>
      )}
      {v && (
        <>
          <Leaves v={v} />
          <div className="halves">
            <JointsOf v={v} />
            <section className="gaps">
              <GapsOf v={v} />
              <Bound v={v} />
              {!making && may('makeDossier') && (
                <Act
                  v={v}
                  busy={make.isPending || ask.isPending}
                  onMake={(withGaps) => make.mutate(withGaps)}
                  onAsk={() => ask.mutate()}
                />
              )}
              {!making && !may('makeDossier') && v.bound.length === 0 && (
                <p className="dim">A lead, an inspector or an engineer has it made.</p>
              )}
            </section>
          </div>
        </>
      )}
    </div>
  );
}

const isBound = (v: View) => v.last?.state === 'bound' && v.newer.length === 0;

/** Leaves that are drawn, as far as the book that is shown is the one they were drawn for. */
const drawnOf = (v: View) => (v.last?.state === 'making' || isBound(v) ? (v.last?.leaves ?? []) : []);

function HowItStands({ v }: { v: View }) {
  const d = v.last;
  if (d?.state === 'making') {
    const drawn = drawnOf(v);
    const done = drawn.reduce((a, b) => a + b, 0);
    const about = spansOf(v.book.entries, drawn).at(-1)?.[1] ?? 0;
    const left = minutesLeft(new Date(d.begunAt).getTime(), Date.now(), done, about);
    const time =
      left === undefined ? '' : left < 1 ? ', less than a minute to go' : `, about ${Math.ceil(left)} min to go`;
    return (
      <>
        being made since {when(d.begunAt)}
        {time}. Carry on with other work; it says when it is bound.
      </>
    );
  }
  if (d?.state === 'failed')
    return (
      <span className="wrong">
        It could not be made: {d.failed}. What is drawn is kept for a day; put that right and have it made again.
      </span>
    );
  const last = v.bound[0];
  if (last && v.newer.length > 0)
    return (
      <>
        {v.newer.length === 1 ? 'One entry is' : `${v.newer.length} entries are`} newer than sheet {last.sheet}:{' '}
        {v.newer.slice(0, 4).join(', ')}
        {v.newer.length > 4 ? ` and ${v.newer.length - 4} more` : ''}. Make sheet {last.sheet + 1}.
      </>
    );
  if (last && d?.state === 'bound')
    return (
      <>
        bound {when(last.boundAt ?? last.begunAt)} by {last.by}.
      </>
    );
  if (d?.state === 'stopped')
    return <>was stopped. What is drawn is kept for a day: making it again goes on from there.</>;
  return <>not made yet. It is made in the background; nobody has to wait for it.</>;
}

function Leaves({ v }: { v: View }) {
  const drawn = drawnOf(v);
  const done = drawn.reduce((a, b) => a + b, 0);
  const chapters = chaptersOf(v.book.entries, drawn);
  return (
    <>
      <Edge chapters={chapters} done={drawn.length > 0 ? done : undefined} />
      <p className="narrow-words">
        {done > 0 && !isBound(v) ? `${done} of ` : ''}
        {isBound(v) ? '' : 'about '}
        {chapters.reduce((n, c) => n + c.leaves, 0)} leaves
      </p>
    </>
  );
}

function JointsOf({ v }: { v: View }) {
  const drawn = drawnOf(v);
  const spans = spansOf(v.book.entries, drawn);
  const rows = v.book.entries.map((e, i) => ({ e, i })).filter(({ e }) => e.chapter === 'joints');
  return (
    <section className="of">
      <h2 className="rule">
        Joints in it<span className="r">leaves</span>
      </h2>
      {rows.length === 0 && <p className="empty">This package has no joints. Put them into the register first.</p>}
      <ul>
        {rows.map(({ e, i }) => (
          <JointRow
            key={e.key}
            entry={e}
            from={spans[i]?.[0] ?? 0}
            to={spans[i]?.[1] ?? 0}
            state={e.gap ? 'gap' : i < drawn.length ? 'made' : 'to come'}
          />
        ))}
      </ul>
      <p className="dim">
        Each joint: its certificate with every pull, check, deviation and photo, and what it follows.
      </p>
    </section>
  );
}

interface RowProps {
  entry: Entry;
  from: number;
  to: number;
  state: LeafState;
}

// A thousand of them stand beside a book that is being made, and few of them change.
const JointRow = memo(
  function JointRow({ entry: e, from, to, state }: RowProps) {
    return (
      <li className={e.gap ? 'gap' : ''}>
        <Glyph family={e.family} count={e.bolts ?? 0} state={e.glyph ?? 'waiting'} size={32} />
        <Link to="/joints/$tag" params={{ tag: e.key }} className="m tag-link">
          {e.key}
        </Link>
        <span className="what">
          {e.records?.map((r, n) => (
            <span key={r.number}>
              {n > 0 && ', then '}
              <Link to="/records/$number" params={{ number: r.number }}>
                {r.number}
              </Link>
              {r.added > 0 && ` with ${r.added} added`}
            </span>
          ))}
          {!e.records?.length && (e.note || glyphWords[e.glyph ?? 'waiting'])}
        </span>
        <span className="m pg">{to > from ? `${from} to ${to}` : from}</span>
        <Leaf state={state} />
      </li>
    );
  },
  (a, b) =>
    a.from === b.from && a.to === b.to && a.state === b.state && JSON.stringify(a.entry) === JSON.stringify(b.entry),
);

type LeafState = 'made' | 'to come' | 'gap';

/** A hexagon: full when the leaves are made, outlined while they are to come, striped for a gap. */
function Leaf({ state }: { state: LeafState }) {
  const words = { made: 'made', 'to come': 'to come', gap: 'something is missing' };
  return (
    <svg width="22" height="22" viewBox="-11 -11 22 22" role="img" aria-label={words[state]}>
      <path
        d="M-5.2 -9H5.2L10.4 0L5.2 9H-5.2L-10.4 0Z"
        style={{
          fill: state === 'made' ? 'var(--ink)' : state === 'gap' ? 'url(#hHoldS)' : 'none',
          stroke: state === 'gap' ? 'var(--hold-edge)' : 'var(--ink)',
          strokeWidth: 1.3,
        }}
      />
      {state === 'made' && (
        <path d="M-4 .2L-1.2 3.2L4.2 -3" style={{ fill: 'none', stroke: 'var(--film)', strokeWidth: 1.9 }} />
      )}
    </svg>
  );
}

function GapsOf({ v }: { v: View }) {
  const { person } = useSession();
  const n = v.book.gaps.length;
  return (
    <>
      <h2 className="rule">
        {n === 0 ? 'No gaps' : n === 1 ? 'One gap, and who has it' : `${n} gaps, and who has them`}
        {n > 0 && <span className="r">whose</span>}
      </h2>
      {n === 0 && <p>Everything that belongs into the book is there.</p>}
      <ul>
        {v.book.gaps.map((g) => (
          <li key={g.code + g.key}>
            <div>
              <GapLink g={g} />
              <span>{g.note}</span>
              {g.asked && <AskedOf list={g.asked} />}
            </div>
            <Whose g={g} me={person?.id} />
          </li>
        ))}
      </ul>
    </>
  );
}

function AskedOf({ list }: { list: NonNullable<Gap['asked']> }) {
  const last = list.reduce((a, b) => (b.at > a.at ? b : a));
  return (
    <span className="asked">
      Asked: {list.length > 2 ? `${list.length} people` : list.map((a) => a.who).join(', ')}, {when(last.at)}.
    </span>
  );
}

function GapLink({ g }: { g: Gap }) {
  if (g.chapter === 'joints')
    return (
      <Link to="/joints/$tag" params={{ tag: g.key }}>
        <b>{g.what}</b>
      </Link>
    );
  if (g.chapter === 'tests')
    return (
      <Link to="/joints/tests/$tag" params={{ tag: g.key }}>
        <b>{g.what}</b>
      </Link>
    );
  return (
    <Link to="/crib" search={{ tool: g.key }}>
      <b>{g.what}</b>
    </Link>
  );
}

function Whose({ g, me }: { g: Gap; me: string | undefined }) {
  const mine = me !== undefined && g.whoIds.includes(me);
  const others = g.who.filter((_, i) => g.whoIds[i] !== me);
  const names = mine ? ['you', ...others] : others;
  return (
    <div className={mine ? 'w mine' : 'w'}>
      <b>{names.length === 0 ? 'nobody has the role' : names.slice(0, 2).join(', ')}</b>
      <span>{names.length === 0 ? g.roles.join(' or ') : names.length > 2 ? `and ${names.length - 2} more` : ''}</span>
    </div>
  );
}

function Bound({ v }: { v: View }) {
  if (v.bound.length === 0) return null;
  return (
    <>
      <h2 className="rule">Bound so far</h2>
      <ul className="bound">
        {v.bound.map((d) => (
          <li key={d.id}>
            <div>
              <b>Sheet {d.sheet}</b>
              <span>
                {when(d.boundAt ?? d.begunAt)}, {d.by}, {num(d.bytes / 1e6, 1)} MB, mark{' '}
                <span className="m">{d.mark.slice(0, 8).toUpperCase()}</span>
              </span>
            </div>
            <span className="row-btns">
              <a className="btn sm" href={`/api/dossiers/${d.id}/book.pdf`}>
                Book, PDF
              </a>
              <a className="btn sm" href={`/api/dossiers/${d.id}/files.zip`}>
                Files, ZIP
              </a>
            </span>
          </li>
        ))}
      </ul>
      <p className="dim">
        The ZIP holds the sealed files and a signed index. Anybody can check it: dynacor verify FILE.zip
      </p>
    </>
  );
}

/** One thing to press: what you can supply yourself, or the making of the book. */
function Act({ v, busy, onMake, onAsk }: { v: View; busy: boolean; onMake(withGaps: boolean): void; onAsk(): void }) {
  const { person } = useSession();
  const n = v.book.gaps.length;
  const mine = v.book.gaps.find((g) => g.chapter === 'joints' && person && g.whoIds.includes(person.id));
  const sheet = (v.bound[0]?.sheet ?? 0) + 1;
  if (!v.book.entries.some((e) => e.chapter === 'joints')) return null;
  return (
    <div className="acts">
      {n > 0 && mine && (
        <Link to="/joints/$tag" params={{ tag: mine.key }} className="btn now">
          Open {mine.key}
        </Link>
      )}
      {n > 0 && (
        <button type="button" className="btn" disabled={busy} onClick={onAsk}>
          Ask those who have them
        </button>
      )}
      <button
        type="button"
        className={n > 0 || isBound(v) ? 'btn' : 'btn now'}
        disabled={busy}
        onClick={() => onMake(n > 0)}
      >
        {n > 0
          ? `Bind ${sheet > 1 ? `sheet ${sheet}` : 'it'} with its gaps`
          : sheet > 1
            ? `Make sheet ${sheet}`
            : 'Make the book'}
      </button>
    </div>
  );
}
