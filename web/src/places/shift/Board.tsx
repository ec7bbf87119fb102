import { useElementSize } from '@mantine/hooks';
import type { ShiftActivity, ShiftPlan } from '../../api/client';
import { hours, laneOf, ruler, worked } from './ruler';
import { dayName, hm, nameOf } from './words';

const lane = 30;
const names = 118;
const head = 44;

/** Lanes of people and of tools over the time at work. */
export function Board({
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
