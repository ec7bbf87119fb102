import { Select, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useInfiniteQuery } from '@tanstack/react-query';
import { getRouteApi, Link } from '@tanstack/react-router';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef, useState } from 'react';
import { api, type JointRow, must, usePackages } from '../../api/client';
import { useSession } from '../../api/session';
import { Glyph, glyphWords } from '../../rosette/Glyph';
import './joints.css';

const route = getRouteApi('/joints');
const pageSize = 200;
type Sort = 'tag' | '-tag' | 'area' | 'make' | 'station' | '-updated';

/** The register: every joint, found by words in a sentence. */
export function JointsPlace() {
  const search = route.useSearch();
  const navigate = route.useNavigate();
  const { may } = useSession();
  const packages = usePackages();
  const [text, setText] = useState(search.q ?? '');
  const [q] = useDebouncedValue(text, 150);
  const set = (change: Partial<typeof search>) =>
    void navigate({ search: (old) => ({ ...old, ...change }), replace: true });
  const sort = (search.sort ?? 'tag') as Sort;
  const query = { q, area: search.area ?? '', glyph: search.glyph ?? '', package: search.package ?? '', sort };
  const list = useInfiniteQuery({
    queryKey: ['joints', query],
    queryFn: ({ pageParam }) =>
      must(api.GET('/joints', { params: { query: { ...query, limit: pageSize, offset: pageParam } } })),
    initialPageParam: 0,
    getNextPageParam: (_, pages) => {
      const n = pages.reduce((s, p) => s + p.rows.length, 0);
      return n < (pages[0]?.total ?? 0) ? n : undefined;
    },
    placeholderData: (last) => last,
  });
  const rows = useMemo(() => list.data?.pages.flatMap((p) => p.rows) ?? [], [list.data]);
  const total = list.data?.pages[0]?.total ?? 0;
  const areas = list.data?.pages[0]?.areas ?? [];
  const scroll = useRef<HTMLDivElement>(null);
  const grid = search.view === 'grid';
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroll.current,
    estimateSize: () => 48,
    overscan: 12,
  });
  const items = virtual.getVirtualItems();
  const lastIndex = items.at(-1)?.index ?? 0;
  useEffect(() => {
    if (!grid && lastIndex >= rows.length - 30 && list.hasNextPage && !list.isFetchingNextPage)
      void list.fetchNextPage();
  }, [lastIndex, rows.length, grid, list]);
  const planner = may('importJoints');
  const head = (name: string, key: Sort, className = '') => (
    <button
      type="button"
      className={`th ${className}`}
      aria-pressed={sort === key || sort === `-${key}`}
      onClick={() => set({ sort: sort === key && key === 'tag' ? '-tag' : key })}
    >
      {name} {sort === key ? '↓' : sort === `-${key}` ? '↑' : ''}
    </button>
  );
  return (
    <div className="joints">
      <div className="sentence">
        <span>Joints in</span>
        <Select
          aria-label="Area"
          value={search.area ?? ''}
          onChange={(v) => set({ area: v || undefined })}
          data={[{ value: '', label: 'every area' }, ...areas.map((a) => ({ value: a, label: a }))]}
          w={170}
        />
        <span>that are</span>
        <Select
          aria-label="State"
          value={search.glyph ?? ''}
          onChange={(v) => set({ glyph: v || undefined })}
          data={[
            { value: '', label: 'anything' },
            ...Object.entries(glyphWords).map(([value, label]) => ({ value, label })),
          ]}
          w={140}
        />
        <span>of</span>
        <Select
          aria-label="Package"
          value={search.package ?? ''}
          onChange={(v) => set({ package: v || undefined })}
          data={[
            { value: '', label: 'every package' },
            ...(packages.data ?? []).map((p) => ({ value: p.code, label: `${p.code} ${p.name}` })),
          ]}
          w={200}
        />
        <TextInput
          aria-label="Search joints"
          placeholder="tag, name, make, service"
          value={text}
          onChange={(e) => {
            setText(e.currentTarget.value);
            set({ q: e.currentTarget.value || undefined });
          }}
          w={190}
        />
        <span className="sp" />
        <button type="button" className={`btn sm${grid ? '' : ' on'}`} onClick={() => set({ view: undefined })}>
          List
        </button>
        <button type="button" className={`btn sm${grid ? ' on' : ''}`} onClick={() => set({ view: 'grid' })}>
          Grid
        </button>
        <Link to="/joints/new" className="btn sm">
          New joint
        </Link>
        <Link to="/joints/tests" className="btn sm">
          Tests
        </Link>
        {planner && (
          <Link to="/joints/import" className="btn sm">
            Import
          </Link>
        )}
      </div>
      <div className="count">
        <span>
          {total} joint{total === 1 ? '' : 's'}
        </span>
        {search.package && (
          <Link to="/needs" search={{ package: search.package }} className="btn plain sm">
            What {search.package} takes
          </Link>
        )}
        {search.package && (
          <Link to="/books/$code" params={{ code: search.package }} className="btn plain sm">
            Book of {search.package}
          </Link>
        )}
        {search.package && (
          <Link to="/shift" search={{ package: search.package }} className="btn plain sm">
            Shift
          </Link>
        )}
        <span className="sp" />
        <Link className="btn plain sm" to="/labels" search={{ of: 'joints', package: search.package }}>
          Labels
        </Link>
        <a className="btn plain sm" href="/api/export/joints.csv" download="joints.csv">
          Export
        </a>
        <button type="button" className="btn plain sm" onClick={() => print()}>
          Print
        </button>
      </div>
      {list.isError && <p className="wrong">{(list.error as Error).message}</p>}
      {!list.isError && total === 0 && !list.isPending && (
        <div className="empty">
          <svg width="90" height="90" viewBox="-45 -45 90 90" aria-hidden="true">
            <circle r="38" style={{ fill: 'none', stroke: 'var(--ink-3)', strokeWidth: 1.5, strokeDasharray: '6 5' }} />
          </svg>
          <span>
            {q || search.area || search.glyph || search.package
              ? 'No joint is like that. Widen the sentence above.'
              : 'No joints yet. Import a register, or enter the first one.'}
          </span>
        </div>
      )}
      {grid ? (
        <div className="joint-grid">
          {rows.map((j) => (
            <Link
              key={j.tag}
              to="/joints/$tag"
              params={{ tag: j.tag }}
              className="joint-cell"
              title={`${j.name}. ${j.summary}`}
            >
              <Glyph family={j.family} count={j.bolts} state={j.glyph} size={64} />
              <span className="m">{j.tag}</span>
            </Link>
          ))}
          {list.hasNextPage && (
            <button type="button" className="btn" onClick={() => void list.fetchNextPage()}>
              {total - rows.length} more
            </button>
          )}
        </div>
      ) : (
        total > 0 && (
          <>
            <div className="joint-row heads">
              <span />
              {head('Tag', 'tag')}
              <span className="th">Joint</span>
              {head('Area', 'area', 'w')}
              {head('Make', 'make', 'w')}
              {head('Stands at', 'station')}
              {head('Last', '-updated', 'w')}
            </div>
            <div className="joint-list" ref={scroll}>
              <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
                {items.map((v) => {
                  const j = rows[v.index];
                  return j ? <Line key={j.tag} j={j} top={v.start} /> : null;
                })}
              </div>
            </div>
          </>
        )
      )}
    </div>
  );
}

function Line({ j, top }: { j: JointRow; top: number }) {
  return (
    <Link
      to="/joints/$tag"
      params={{ tag: j.tag }}
      className="joint-row"
      style={{ position: 'absolute', top, left: 0, right: 0, height: 48 }}
    >
      <Glyph family={j.family} count={j.bolts} state={j.glyph} size={32} />
      <span className="m tg">{j.tag}</span>
      <span className="nm">{j.name}</span>
      <span className="w dim">{j.area}</span>
      <span className="w">{j.make}</span>
      <span>
        <b>{glyphWords[j.glyph]}</b>
        {j.summary && <span className={j.glyph === 'stopped' ? 'hld' : 'dim'}> {j.summary}</span>}
      </span>
      <span className="w dim">
        {new Date(j.updatedAt).toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })}
      </span>
    </Link>
  );
}
