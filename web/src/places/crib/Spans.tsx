import type { Span, ToolView } from '../../api/client';
import type { components } from '../../api/schema';
import { day, num } from '../../kit/numbers';
import { Glyph } from '../../rosette/Glyph';

type Crib = components['schemas']['Crib'];

/** Conditions of a tool in words. */
export const conditions: Record<string, string> = {
  fit: 'fit',
  due_soon: 'due soon',
  overdue: 'calibration ran out',
  quarantined: 'put aside',
};

/** Place on the logarithmic scale, percent: from the lowest bar to the highest, so that nothing hangs out. */
export function scale(spans: Span[]) {
  const lo = Math.log10(Math.max(1, Math.min(...spans.map((s) => s.minNm), 20)));
  const hi = Math.log10(Math.max(...spans.map((s) => s.maxNm), 200) * 1.05);
  return (nm: number) => ((Math.log10(Math.max(nm, 1)) - lo) / (hi - lo)) * 100;
}

/** Every set-up as a bar over torque at the nut, the joints in hand as leaders; a ring where a bar meets a joint. */
export function Spans({
  crib,
  chosen,
  onChoose,
}: {
  crib: Crib;
  chosen: string | undefined;
  onChoose: (tag: string) => void;
}) {
  // A screwdriver of a few N·m would squeeze all others together; it stands under All tools.
  const spans = crib.spans.some((s) => s.maxNm >= 20) ? crib.spans.filter((s) => s.maxNm >= 20) : crib.spans;
  const x = scale(spans);
  const views = new Map(crib.tools.map((t) => [t.tool.tag, t]));
  const groups: { nm: number; joints: Crib['joints'] }[] = [];
  for (const j of crib.joints) {
    const last = groups.at(-1);
    if (last && x(j.nm) - x(last.nm) < 0.6) last.joints.push(j);
    else groups.push({ nm: j.nm, joints: [j] });
  }
  // Heads stand side by side; leaders run from them to the true place.
  const head = 100 / Math.max(groups.length, 1);
  return (
    <>
      <div className="rule" style={{ padding: '10px 14px 0' }}>
        What each set-up can serve<span className="r">N·m at the nut; ring where a bar meets a joint in hand</span>
      </div>
      {groups.length > 0 && (
        <div className="crib-axis" aria-hidden="true">
          <svg viewBox="0 0 1000 30" preserveAspectRatio="none" className="leaders">
            {groups.map((g, i) => (
              <path
                key={g.nm}
                d={`M${(i + 0.5) * head * 10} 0L${x(g.nm) * 10} 26V30`}
                vectorEffect="non-scaling-stroke"
              />
            ))}
          </svg>
          {groups.map((g, i) => (
            <span key={g.nm} style={{ left: `${(i + 0.5) * head}%` }}>
              <b className="m">{g.joints[0]?.tag}</b>
              {g.joints.length > 1 && <small>+{g.joints.length - 1}</small>}
              <Glyph
                family={g.joints[0]?.family}
                count={g.joints[0]?.bolts ?? 8}
                state={g.joints[0]?.glyph ?? 'waiting'}
                size={30}
              />
              <b className="m">{num(g.nm, 0)}</b>
            </span>
          ))}
        </div>
      )}
      {spans.map((s) => (
        <Bar
          key={s.tags}
          s={s}
          x={x}
          holder={holderOf(s, views)}
          joints={groups}
          chosen={s.tags.split('+').includes(chosen ?? '')}
          onChoose={onChoose}
        />
      ))}
      {spans.length === 0 && (
        <p className="empty">No torque wrench yet. Enter the first with its certificate under All tools.</p>
      )}
      <div className="crib-legend">
        <span>
          <i className="tool-bar" /> in the crib or in hand
        </span>
        <span>
          <i className="tool-bar out" /> given out
        </span>
        <span>
          <i className="tool-bar overdue" /> not to be used
        </span>
        <span className="dim">usable range by the house rule</span>
      </div>
    </>
  );
}

function holderOf(s: Span, views: Map<string, ToolView>) {
  for (const tag of s.tags.split('+')) {
    const v = views.get(tag);
    if (v?.holder) return `${tag} with ${v.holder}`;
  }
  return '';
}

interface BarProps {
  s: Span;
  x: (nm: number) => number;
  holder: string;
  joints: { nm: number; joints: { tag: string }[] }[];
  chosen: boolean;
  onChoose: (tag: string) => void;
}

function Bar({ s, x, holder, joints, chosen, onChoose }: BarProps) {
  const a = x(s.minNm);
  const b = x(s.maxNm);
  const bad = s.condition === 'overdue' || s.condition === 'quarantined';
  const says = bad
    ? conditions[s.condition]
    : holder || (s.ends ? `${s.condition === 'due_soon' ? 'ends' : 'to'} ${day(s.ends)}` : '');
  const met = bad ? [] : joints.filter((j) => j.nm >= s.minNm && j.nm <= s.maxNm);
  const tags = s.tags.split('+');
  return (
    <button
      type="button"
      className={`tool${chosen ? ' chosen' : ''}`}
      aria-pressed={chosen}
      onClick={() => onChoose(tags.length > 1 ? (tags.at(-1) ?? s.tags) : s.tags)}
    >
      <span>
        <b className="m">{s.name}</b>
        <small>{s.word}</small>
      </span>
      <span className="range">
        {joints.map((j) => (
          <s key={j.nm} style={{ left: `${x(j.nm)}%` }} />
        ))}
        <i
          className={`tool-bar ${bad ? 'overdue' : holder ? 'out' : s.condition}`}
          style={{ left: `${a}%`, width: `${b - a}%` }}
        />
        <em style={{ left: `${a}%` }}>{num(s.minNm, 0)}</em>
        <em style={{ left: `${b}%`, transform: 'translateX(-100%)' }}>{num(s.maxNm, 0)}</em>
        {met.map((j) => (
          <u key={j.nm} style={{ left: `${x(j.nm)}%` }} />
        ))}
      </span>
      <span className={s.condition === 'fit' ? 'dim' : 'hld'} style={{ fontWeight: s.condition === 'fit' ? 500 : 600 }}>
        {says}
        {met.length > 0 && (
          <span className="sr"> serves {met.flatMap((m) => m.joints.map((j) => j.tag)).join(', ')}</span>
        )}
      </span>
    </button>
  );
}
