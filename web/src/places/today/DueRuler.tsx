import type { Today } from '../../api/client';

const W = 640;
const days = 15;
const step = 42;

/** What falls due on a ruler of two weeks: the past shaded, now in orange. */
export function DueRuler({ now, due }: { now: string; due: Today['due'] }) {
  const start = new Date(now);
  start.setHours(0, 0, 0, 0);
  start.setDate(start.getDate() - 2);
  const at = (d: Date) => 8 + ((d.getTime() - start.getTime()) / 864e5) * step;
  const nowX = at(new Date(now));
  const shown = due
    .filter((d) => d.condition !== 'quarantined')
    .map((d) => ({ ...d, x: Math.max(16, at(new Date(`${d.on}T17:00:00`))) }))
    .filter((d) => d.x < W - 20)
    .slice(0, 6);
  const later = due.filter((d) => d.condition === 'due_soon' && at(new Date(`${d.on}T17:00:00`)) >= W - 20);
  const aside = due.filter((d) => d.condition === 'quarantined');
  return (
    <>
      <svg
        viewBox={`0 0 ${W} 118`}
        width="100%"
        style={{ maxWidth: W, marginTop: 4 }}
        role="img"
        aria-label={
          due.map((d) => `${d.tag} ${d.condition.replace('_', ' ')}, ${d.on}`).join('; ') || 'Nothing falls due'
        }
      >
        <rect x="0" y="20" width={nowX} height="98" style={{ fill: 'var(--film-3)' }} />
        <path d={`M0 34H${W}`} style={{ stroke: 'var(--ink)', strokeWidth: 1.4 }} />
        {Array.from({ length: days }, (_, i) => {
          const d = new Date(start);
          d.setDate(d.getDate() + i);
          const today = i === 2;
          return (
            <g key={d.toISOString()}>
              <path d={`M${8 + i * step} 26V42`} style={{ stroke: 'var(--ink)', strokeWidth: 1.2 }} />
              <text
                x={8 + (i + 0.5) * step}
                y="18"
                textAnchor="middle"
                style={{ font: `${today ? 700 : 500} 14px var(--text)`, fill: today ? 'var(--now)' : 'var(--ink-2)' }}
              >
                {d.toLocaleDateString('en-GB', { weekday: 'short' }).slice(0, 2)} {d.getDate()}
              </text>
            </g>
          );
        })}
        <path d={`M${nowX} 26V118`} style={{ stroke: 'var(--now)', strokeWidth: 2.2 }} />
        <path d={`M${nowX - 6} 24h12l-6 8Z`} style={{ fill: 'var(--now)' }} />
        {shown.map((d, i) => {
          const y = 60 + (i % 2) * 34;
          const late = d.condition === 'overdue';
          return (
            <g key={d.tag}>
              <path d={`M${d.x} 34V${y - 9}`} style={{ stroke: 'var(--hair)' }} />
              <path
                d={`M${d.x} ${y - 9}l9 9l-9 9l-9 -9Z`}
                style={{
                  fill: late ? 'url(#hHold)' : 'var(--film-2)',
                  stroke: late ? 'var(--hold-edge)' : 'var(--ink)',
                  strokeWidth: 1.6,
                }}
              />
              <text
                x={d.x + 14}
                y={y - 1}
                style={{
                  paintOrder: 'stroke',
                  stroke: late ? 'var(--film-3)' : 'var(--film)',
                  strokeWidth: 5,
                  font: '700 14px var(--mono)',
                  fill: late ? 'var(--hold-ink)' : 'var(--ink)',
                }}
              >
                {d.tag}
              </text>
              <text
                x={d.x + 14}
                y={y + 13}
                style={{
                  paintOrder: 'stroke',
                  stroke: late ? 'var(--film-3)' : 'var(--film)',
                  strokeWidth: 5,
                  font: '500 14px var(--text)',
                  fill: late ? 'var(--hold-ink)' : 'var(--ink-2)',
                }}
              >
                {late ? 'calibration ran out' : 'calibration ends'}
              </text>
            </g>
          );
        })}
      </svg>
      <p className="dim" style={{ fontSize: 14 }}>
        {[...later.map((d) => `${d.tag} to ${d.on}`), ...aside.map((d) => `${d.tag} put aside`)].join(' · ')}
      </p>
    </>
  );
}
