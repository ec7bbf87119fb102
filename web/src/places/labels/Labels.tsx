import { NumberInput, Select, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { getRouteApi } from '@tanstack/react-router';
import { useState } from 'react';
import { api, type LabelStock, must, useLibrary, usePackages } from '../../api/client';
import { placesOf } from './sheet';
import './labels.css';

const labelsOf = (n: number) => `${n} label${n === 1 ? '' : 's'}`;

const route = getRouteApi('/labels');

type Of = 'tools' | 'joints' | 'tins' | 'people' | 'tags';
const kinds: { value: Of; label: string; stock: string }[] = [
  { value: 'tools', label: 'tools', stock: 'cut' },
  { value: 'joints', label: 'joints', stock: 'a4-21' },
  { value: 'tags', label: 'finished joints: tags to hang', stock: 'ring-8' },
  { value: 'tins', label: 'tins of lubricant', stock: 'roll-62' },
  { value: 'people', label: 'people: cards', stock: 'cards' },
];

/** The first sheet to scale, with what will stand where. Pressing a place begins there. */
function Sheet({
  stock,
  heads,
  from,
  onFrom,
}: {
  stock: LabelStock;
  heads: string[];
  from: number;
  onFrom: (n: number) => void;
}) {
  return (
    <svg
      className="label-sheet"
      viewBox={`-1 -1 ${stock.pageW + 2} ${stock.pageH + 2}`}
      style={{ aspectRatio: `${stock.pageW + 2} / ${stock.pageH + 2}`, width: stock.pageW * 4 }}
      role="img"
      aria-label={`${stock.name}: the first of ${labelsOf(heads.length)} lies at place ${from}`}
    >
      <rect className="paper" width={stock.pageW} height={stock.pageH} />
      {placesOf(stock).map(({ x, y, n }) => {
        const head = heads[n - from];
        return (
          // biome-ignore lint/a11y/noStaticElementInteractions: the number beside the sheet does the same by keyboard
          <g key={n} onClick={() => onFrom(n)} className={head === undefined ? 'free' : 'used'}>
            <rect x={x} y={y} width={stock.w} height={stock.h} />
            {head !== undefined && (
              <>
                <text
                  x={x + stock.w * 0.06}
                  y={y + stock.h * 0.4}
                  fontSize={Math.min(stock.h * 0.26, (stock.w * 0.9) / head.length)}
                >
                  {head}
                </text>
                <rect
                  className="code"
                  x={x + stock.w - Math.min(stock.h, stock.w * 0.4) * 0.9}
                  y={y + stock.h * 0.52}
                  width={stock.h * 0.36}
                  height={stock.h * 0.36}
                />
              </>
            )}
          </g>
        );
      })}
    </svg>
  );
}

/** Labels with a code to scan: of what, on which sheet, from which place of it on. */
export function LabelsPlace() {
  const search = route.useSearch();
  const navigate = route.useNavigate();
  const kind = kinds.find((k) => k.value === search.of) ?? kinds[0];
  const of = kind?.value ?? 'tools';
  const lib = useLibrary();
  const packages = usePackages();
  const [tin, setTin] = useState({ lubricant: '', batch: '', useBy: '', count: 1 });
  const [from, setFrom] = useState(1);
  const query = {
    of,
    ids: search.ids,
    package: search.package,
    ...(of === 'tins'
      ? { lubricant: tin.lubricant, batch: tin.batch, useBy: tin.useBy || undefined, count: tin.count }
      : {}),
  };
  const told = of !== 'tins' || (tin.lubricant !== '' && tin.batch.trim() !== '');
  const list = useQuery({
    queryKey: ['labels', query],
    queryFn: () => must(api.GET('/labels', { params: { query: told ? query : { of: 'tools', ids: '' } } })),
    placeholderData: (last) => last,
    retry: false,
  });
  const stocks = list.data?.stocks ?? [];
  const stock = stocks.find((s) => s.code === (search.stock ?? kind?.stock)) ?? stocks[0];
  const labels = told ? (list.data?.labels ?? []) : [];
  const begin = stock ? Math.min(from, stock.across * stock.down) : 1;
  const address = new URLSearchParams();
  for (const [key, v] of Object.entries({ ...query, stock: stock?.code, from: begin }))
    if (v) address.set(key, String(v));
  const set = (change: Partial<typeof search>) => void navigate({ search: { ...search, ...change }, replace: true });
  return (
    <div className="page labels">
      <div className="labels-ask">
        <h1 className="title">Labels</h1>
        <Select
          label="Labels for"
          value={of}
          onChange={(v) => v && set({ of: v, ids: undefined, stock: undefined })}
          data={kinds}
          allowDeselect={false}
        />
        {(of === 'joints' || of === 'tags') && !search.ids && (
          <Select
            label="Of the work package"
            placeholder="all"
            value={search.package ?? null}
            onChange={(v) => set({ package: v ?? undefined })}
            data={(packages.data ?? []).map((p) => ({ value: p.code, label: `${p.code} ${p.name}` }))}
            searchable
            clearable
          />
        )}
        {search.ids && (
          <p>
            Only <b className="m">{search.ids.split(',').join(', ')}</b>.{' '}
            <button type="button" className="btn sm" onClick={() => set({ ids: undefined })}>
              All of them
            </button>
          </p>
        )}
        {of === 'tins' && (
          <>
            <Select
              label="In the tins"
              placeholder="choose"
              value={tin.lubricant || null}
              onChange={(v) => setTin({ ...tin, lubricant: v ?? '' })}
              data={[...new Map((lib.data?.lubricants ?? []).map((l) => [l.code, l.name]))].map(([value, label]) => ({
                value,
                label,
              }))}
              searchable
            />
            <TextInput
              label="Batch, from the maker's label"
              value={tin.batch}
              onChange={(e) => setTin({ ...tin, batch: e.currentTarget.value })}
              maxLength={40}
            />
            <TextInput
              label="Use by"
              type="date"
              value={tin.useBy}
              onChange={(e) => setTin({ ...tin, useBy: e.currentTarget.value })}
            />
            <NumberInput
              label="Tins"
              value={tin.count}
              onChange={(v) => setTin({ ...tin, count: typeof v === 'number' ? v : 1 })}
              min={1}
              max={200}
              clampBehavior="strict"
              allowDecimal={false}
            />
          </>
        )}
        <Select
          label="On"
          value={stock?.code ?? null}
          onChange={(v) => v && set({ stock: v })}
          data={stocks.map((s) => ({ value: s.code, label: s.name }))}
          allowDeselect={false}
        />
        {stock && stock.across * stock.down > 1 && (
          <NumberInput
            label="Begin at place"
            description="of a sheet that is partly used; or press the place"
            value={begin}
            onChange={(v) => setFrom(typeof v === 'number' ? v : 1)}
            min={1}
            max={stock.across * stock.down}
            clampBehavior="strict"
            allowDecimal={false}
          />
        )}
        {list.isError && (
          <p className="wrong" role="alert">
            {(list.error as Error).message}
          </p>
        )}
        {told && list.isSuccess && labels.length === 0 && <p>Nothing here has a label. Choose others.</p>}
        {!told && (
          <p className="dim">Say what is in the tins and its batch: the check of the lubricant asks for both.</p>
        )}
        {labels.length === 0 ? (
          <button type="button" className="btn now" disabled>
            Print
          </button>
        ) : (
          <a className="btn now" href={`/api/labels.pdf?${address}`} target="_blank" rel="noreferrer">
            Print {labelsOf(labels.length)}
          </a>
        )}
        {of === 'people' && <p className="dim">A card says who somebody is. That it is them, only the PIN says.</p>}
      </div>
      {stock && <Sheet stock={stock} heads={labels.map((l) => l.head)} from={begin} onFrom={setFrom} />}
    </div>
  );
}
