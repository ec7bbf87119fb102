import type { ShiftPlan } from '../../api/client';
import type { Part } from './Frame';
import { dayName } from './words';

/** The days of the plan: a stroke for each joint that ends there, heavy when it is done; hatched where an isolation is off. */
export function WeekStrip({ p, parts, onDay }: { p: ShiftPlan; parts: Part[]; onDay: (day: string) => void }) {
  const days: { from: string; to: string }[] = [];
  for (const o of p.open) {
    const last = days.at(-1);
    if (last && dayName(last.from) === dayName(o.from)) last.to = o.to;
    else days.push({ ...o });
  }
  if (days.length < 2) return null;
  const ends = new Map<string, { tag: string; done: boolean }[]>();
  for (const j of p.joints) {
    const last = p.activities.filter((a) => a.tag === j.tag).at(-1);
    if (!last) continue;
    const done = parts.some((x) => x.tag === j.tag && x.kind === last.kind && x.step === 'done');
    const day = dayName(last.end);
    ends.set(day, [...(ends.get(day) ?? []), { tag: j.tag, done }]);
  }
  return (
    <nav className="week-strip" aria-label="Days of the plan">
      {days.map((d) => {
        const list = ends.get(dayName(d.from)) ?? [];
        const done = list.filter((x) => x.done).length;
        const off = p.isolations.filter(
          (i) => !i.windows.some((w) => Date.parse(w.from) < Date.parse(d.to) && Date.parse(w.to) > Date.parse(d.from)),
        );
        return (
          <button key={d.from} type="button" onClick={() => onDay(d.from)}>
            <b>{dayName(d.from)}</b>
            <span className="of">{done > 0 ? `${done} of ${list.length}` : list.length}</span>
            <svg width="100%" height="14" aria-hidden="true">
              {list.map((x, i) => (
                <path key={x.tag} d={`M${2 + i * 4} 1V13`} className={x.done ? 'stroke-done' : 'stroke'} />
              ))}
            </svg>
            {off.length > 0 && <span className="off">{off.map((i) => i.name || i.code).join(', ')} not isolated</span>}
          </button>
        );
      })}
    </nav>
  );
}
