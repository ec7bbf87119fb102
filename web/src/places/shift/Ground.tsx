import type { ShiftPlan } from '../../api/client';
import { isoTall, type Lane, laneTall, rulerTall } from './lanes';
import { gaps, hours, type ruler } from './ruler';
import { dayName, hm } from './words';

type Ruler = ReturnType<typeof ruler>;

/** What the bars stand on: the hours at work, breaks, when what is isolated, who is away, and the present time. */
export function Ground({
  p,
  r,
  lanes,
  tall,
  open,
  now,
}: {
  p: ShiftPlan;
  r: Ruler;
  lanes: Lane[];
  tall: number;
  open: ShiftPlan['open'];
  now: number;
}) {
  const x = (iso: string) => r.x(Date.parse(iso));
  const breaks = open.slice(1).flatMap((o, i) => {
    const before = open[i];
    return before &&
      r.stretches.some(
        (s) => s.from < Date.parse(o.from) && Date.parse(before.to) < s.to && s.from <= Date.parse(before.from),
      )
      ? [[before.to, o.from] as const]
      : [];
  });
  // Minutes of the ruler in which whoever has a lane is not at work, though others are.
  const off = lanes
    .filter((l) => l.of === 'people')
    .flatMap((l) => {
      const crew = p.crews.find((c) => c.people.includes(l.name));
      return crew ? gaps(r.stretches, crew.open).map((g) => ({ ...g, top: l.top, name: l.name, crew: crew.name })) : [];
    });
  const here = r.stretches.some((s) => s.from <= now && now <= s.to);
  return (
    <g>
      {r.stretches.map((s) => (
        <g key={s.from}>
          <text x={s.left} y="14" className="day">
            {dayName(s.from)}
          </text>
          <rect x={s.left} y={rulerTall - 4} width={s.right - s.left} height={tall - rulerTall} className="at-work" />
        </g>
      ))}
      {here && (
        <rect
          x={r.stretches.find((s) => s.from <= now && now <= s.to)?.left ?? 0}
          y={rulerTall - 4}
          width={Math.max(0, r.x(now) - (r.stretches.find((s) => s.from <= now && now <= s.to)?.left ?? 0))}
          height={tall - rulerTall}
          className="past"
        />
      )}
      {breaks.map(([from, to]) => (
        <rect
          key={from}
          x={x(from)}
          y={rulerTall - 4}
          width={x(to) - x(from)}
          height={tall - rulerTall}
          className="rest"
        />
      ))}
      {off.map((o) => (
        <rect
          key={`${o.name} ${o.from}`}
          x={r.x(o.from)}
          y={o.top - 1}
          width={r.x(o.to) - r.x(o.from)}
          height={laneTall - 1}
          className="rest off-shift"
        />
      ))}
      {hours(r.stretches).map((h) => (
        <g key={h.at}>
          <text x={h.x} y="34" className="hour" textAnchor="middle">
            {hm(h.at)}
          </text>
          <path d={`M${h.x} ${rulerTall - 4}V${tall}`} className="grid-line" />
        </g>
      ))}
      {p.isolations.map((iso, i) => (
        <Isolation key={iso.code} iso={iso} r={r} y={rulerTall + i * isoTall} />
      ))}
      {p.away.map((w) => {
        const lane = lanes.find((l) => l.of === 'people' && l.name === w.name);
        if (!lane || x(w.to) - x(w.from) < 1) return null;
        return (
          <g key={`${w.name}${w.from}`} transform={`translate(0 ${lane.top})`}>
            <rect x={x(w.from)} y="0" width={x(w.to) - x(w.from)} height={laneTall - 4} className="rest" />
            <path d={`M${x(w.from)} 0V${laneTall - 4}`} className="away" />
            <text x={x(w.from) + 8} y={laneTall - 12} className="words">
              {w.why || 'away'}
            </text>
          </g>
        );
      })}
      {here && (
        <g>
          <path d={`M${r.x(now)} ${rulerTall - 4}V${tall}`} className="now-line" />
          <rect x={r.x(now) - 24} y="20" width="48" height="20" className="now-plate" />
          <text x={r.x(now)} y="35" textAnchor="middle" className="now-text">
            {hm(now)}
          </text>
        </g>
      )}
    </g>
  );
}

/** A line while it is shut off, hatched where it is not. */
function Isolation({ iso, r, y }: { iso: ShiftPlan['isolations'][number]; r: Ruler; y: number }) {
  const mid = y + isoTall / 2;
  return (
    <g>
      {r.stretches.map((s) => (
        <rect
          key={s.from}
          x={s.left}
          y={y + 3}
          width={s.right - s.left}
          height={isoTall - 6}
          className="not-isolated"
        />
      ))}
      {iso.windows.map((w) => {
        const [from, to] = [r.x(Date.parse(w.from)), r.x(Date.parse(w.to))];
        if (to - from < 1) return null;
        const says = `isolated to ${hm(w.to)}`;
        return (
          <g key={w.from}>
            <rect x={from} y={y + 1} width={to - from} height={isoTall - 2} className="at-work" />
            <path
              d={`M${from} ${y + 3}V${y + isoTall - 3}M${from} ${mid}H${to}M${to} ${y + 3}V${y + isoTall - 3}`}
              className="dim-line"
            />
            {to - from > 120 && (
              <>
                <rect x={(from + to) / 2 - 52} y={y + 1} width="104" height={isoTall - 2} className="at-work" />
                <text x={(from + to) / 2} y={mid + 4.5} textAnchor="middle" className="words">
                  {says}
                </text>
              </>
            )}
          </g>
        );
      })}
    </g>
  );
}
