import { Checkbox, Select, TextInput } from '@mantine/core';
import { useState } from 'react';
import type { Layout } from '../../api/client';
import { placesOf, useFamilyCore } from '../../core/family';
import { Figure } from '../../kit/Figure';
import { Rosette } from '../../rosette/Rosette';

const kinds = [
  { value: 'circle', label: 'circle' },
  { value: 'pair', label: 'two bolts' },
  { value: 'rectangle', label: 'around a rectangle' },
  { value: 'rows', label: 'rows' },
  { value: 'single', label: 'one nut' },
  { value: 'stack', label: 'nuts stacked on studs' },
  { value: 'layers', label: 'layers' },
  { value: 'free', label: 'free places' },
];

const n = (v: number | string) => (typeof v === 'number' ? v : 0); // '' while it is empty

const axes = [
  ['x', 'To the right, −1 to 1', 'Moved right'],
  ['y', 'Down, −1 to 1', 'Moved down'],
] as const;

/** The layout of a group as an engineer draws it; the drawing follows while typing. */
export function LayoutEditor({
  layout,
  circleMm,
  onChange,
}: {
  layout: Layout;
  circleMm?: number | undefined;
  onChange: (l: Layout) => void;
}) {
  const ready = useFamilyCore();
  const [chosen, setChosen] = useState<number>(); // fastener to be moved
  const kind = layout.kind ?? 'circle';
  const laid = ready ? placesOf(layout) : undefined;
  const put = (change: Partial<Layout>) =>
    onChange(ready ? placesOf({ ...layout, ...change }).layout : { ...layout, ...change });
  const offset = layout.offsets?.find((o) => o.position === chosen);
  const move = (x: number, y: number) => {
    if (!chosen) return;
    const rest = (layout.offsets ?? []).filter((o) => o.position !== chosen);
    put({ offsets: x || y ? [...rest, { position: chosen, x, y }] : rest });
  };
  const grid = ['rectangle', 'rows', 'stack', 'layers'].includes(kind);
  const count = laid?.layout.count ?? layout.count;
  return (
    <div className="layout-editor">
      <div className="fields">
        <Select
          label="Layout"
          value={kind}
          onChange={(v) => {
            const next = (v ?? 'circle') as NonNullable<Layout['kind']>;
            put({
              kind: next,
              offsets: [],
              ...(next === 'circle'
                ? { count: Math.max(3, layout.count), startDeg: 180 / Math.max(3, layout.count) }
                : {}),
              ...(['rectangle', 'rows', 'stack', 'layers'].includes(next)
                ? { rows: layout.rows || 2, columns: layout.columns || 4 }
                : {}),
              ...(next === 'free' ? { points: laid?.places.map((p) => ({ x: p.x, y: p.y })) ?? [{ x: 0, y: 0 }] } : {}),
            });
          }}
          data={kinds}
        />
        {kind === 'circle' && (
          <Figure
            label="Number"
            value={layout.count}
            onChange={(v) => put({ count: n(v), startDeg: 180 / Math.max(1, n(v)) })}
          />
        )}
        {grid && (
          <>
            <Figure
              label={kind === 'stack' ? 'Nuts on each stud' : kind === 'layers' ? 'Layers' : 'Rows'}
              value={layout.rows ?? 1}
              onChange={(v) => put({ rows: n(v) })}
            />
            <Figure
              label={kind === 'stack' ? 'Studs' : kind === 'rectangle' ? 'Along the top' : 'In each'}
              value={layout.columns ?? 1}
              onChange={(v) => put({ columns: n(v) })}
            />
          </>
        )}
        {(kind === 'circle' || kind === 'pair') && (
          <Figure
            unit="deg"
            label="First bolt at, °"
            description="clockwise from the top"
            value={Math.round(layout.startDeg * 100) / 100}
            onChange={(v) => put({ startDeg: n(v) })}
          />
        )}
        <TextInput
          label="Seen from"
          value={layout.seenFrom}
          onChange={(e) => put({ seenFrom: e.currentTarget.value })}
        />
        {kind === 'circle' && (
          <Checkbox
            label="Numbered anticlockwise"
            checked={!!layout.anticlockwise}
            onChange={(e) => put({ anticlockwise: e.currentTarget.checked })}
            mt={26}
          />
        )}
        {kind === 'free' && (
          <Figure
            label="Number of places"
            value={layout.points?.length ?? 1}
            onChange={(v) =>
              put({
                points: Array.from(
                  { length: Math.max(1, Math.min(120, n(v))) },
                  (_, i) => layout.points?.[i] ?? { x: 0, y: 0 },
                ),
              })
            }
          />
        )}
      </div>
      <div className="grid-bg layout-draw">
        {laid && !laid.error ? (
          <Rosette
            size={260}
            count={count}
            startDeg={layout.startDeg}
            anticlockwise={layout.anticlockwise}
            kind={kind}
            places={laid.places}
            numbers={Array.from({ length: count }, (_, i) => i + 1)}
            label={`${count} fasteners as laid out`}
            look={chosen}
            onPick={setChosen}
          />
        ) : (
          <p className="wrong" role="alert">
            {laid?.error ?? 'One moment.'}
          </p>
        )}
        <div className="moves">
          {chosen ? (
            <>
              <b>Number {chosen}</b>
              {axes.map(([axis, free, moved]) => (
                <Figure
                  key={axis}
                  label={kind === 'free' ? free : moved}
                  value={kind === 'free' ? (layout.points?.[chosen - 1]?.[axis] ?? 0) : (offset?.[axis] ?? 0)}
                  onChange={(v) =>
                    kind === 'free'
                      ? put({
                          points: (layout.points ?? []).map((p, i) => (i === chosen - 1 ? { ...p, [axis]: n(v) } : p)),
                        })
                      : move(axis === 'x' ? n(v) : (offset?.x ?? 0), axis === 'y' ? n(v) : (offset?.y ?? 0))
                  }
                />
              ))}
            </>
          ) : (
            <p className="dim">Touch a fastener to move it. {circleMm ? `Circle ${circleMm} mm.` : ''}</p>
          )}
        </div>
      </div>
    </div>
  );
}
