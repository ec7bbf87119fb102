import { memo } from 'react';
import type { Outcome } from './ask';

const left = 26;

/** Bolts by pulls: the darker, the more of its load a bolt has; framed where it is pulled, uprights where passes end. */
export const Strip = memo(function Strip({
  o,
  target,
  at,
  wide,
  tall = 252,
}: {
  o: Outcome;
  target: number;
  at: number;
  wide: number;
  tall?: number;
}) {
  const bolts = o.forces.length;
  const steps = o.history.length;
  const [w, h] = [(wide - left) / Math.max(1, steps), (tall - 22) / bolts];
  const ink = (f: number) => Math.min(1, f / target) ** 2;
  const passes = o.passes.map((p, i) => ({ ...p, from: o.passes[i - 1]?.step ?? 0 }));
  const every = Math.ceil(12 / h);
  return (
    <svg
      className="lab-strip"
      width={wide}
      height={tall}
      role="img"
      aria-label={`Load of each of ${bolts} bolts after each of ${steps} pulls; the same stands in the table`}
    >
      {Array.from({ length: bolts }, (_, b) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: bolts have no name but their number
        <g key={b} transform={`translate(0 ${b * h})`}>
          {b % every === 0 && (
            <text x={left - 6} y={Math.min(h, 15) - 2} textAnchor="end">
              {b + 1}
            </text>
          )}
          {runs(o.history, b).map((r) => (
            <rect
              key={r.from}
              x={left + r.from * w}
              width={(r.to - r.from) * w + 0.4}
              height={Math.max(1, h - 1)}
              style={{ fillOpacity: ink(r.force) }}
            />
          ))}
        </g>
      ))}
      {o.steps
        .flatMap((s, i) => (s.bolts ?? []).map((b) => ({ b, i, key: `pull ${i + 1}, bolt ${b}` })))
        .map(({ b, i, key }) => (
          <rect
            key={key}
            className="pulled"
            x={left + i * w + 0.5}
            y={(b - 1) * h + 0.5}
            width={Math.max(2, Math.min(w - 1, 8))}
            height={Math.max(2, h - 2.5)}
          />
        ))}
      {passes.map((p) => (
        <g key={p.step}>
          <path d={`M${left + p.from * w} 0V${tall - 6}`} className="pass" />
          {(p.step - p.from) * w > 60 && (
            <text x={left + p.from * w + 4} y={tall - 8}>
              {p.word}
            </text>
          )}
        </g>
      ))}
      <path d={`M${left + at * w} 0V${tall - 22}`} className="at" />
    </svg>
  );
});

/** Stretches of pulls in which a bolt's load hardly changes are drawn as one. */
function runs(history: number[][], b: number) {
  const out: { from: number; to: number; force: number }[] = [];
  history.forEach((row, i) => {
    const f = row[b] ?? 0;
    const last = out.at(-1);
    if (last && Math.abs(last.force - f) < 0.004 * Math.max(1, last.force)) last.to = i + 1;
    else out.push({ from: i, to: i + 1, force: f });
  });
  return out;
}
