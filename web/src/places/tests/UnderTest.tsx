import { Link } from '@tanstack/react-router';
import type { PressureTest } from '../../api/client';
import { clock, num } from '../../kit/numbers';
import { Glyph } from '../../rosette/Glyph';

/** The joints under pressure on their line between two blinds, each with how it looked. */
export function UnderTest({ v }: { v: PressureTest }) {
  const act = v.state.act;
  return (
    <section>
      <h2 className="rule">
        What is under pressure
        <span className="r">
          {v.spec.medium}, read at {v.spec.gauge.tag || 'no gauge'}
        </span>
      </h2>
      <ul className="line-under">
        {v.joints.map((j) => {
          const look = v.state.looks.find((l) => l.joint === j.tag);
          const now = act.kind === 'looked' && act.joint === j.tag;
          return (
            <li key={j.tag} className={now ? 'now' : look && !look.dry ? 'weeps' : ''}>
              <Link to="/joints/$tag" params={{ tag: j.tag }}>
                <Glyph family={j.family} count={j.bolts} state={j.glyph} size={44} label={`${j.tag}: ${j.name}`} />
                <b className="m">{j.tag}</b>
              </Link>
              <span>
                {now
                  ? 'look now'
                  : look
                    ? `${look.dry ? 'dry' : 'weeps'} ${clock(look.at).slice(0, 5)}`
                    : v.spec.kind === 'vacuum' || v.spec.kind === 'precharge'
                      ? j.name
                      : 'not looked at'}
              </span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

/** The zone of a gas test, to scale round what is tested, with its barriers; what is stored, and that it is a caution only. */
export function Zone({ v }: { v: PressureTest }) {
  const zone = v.spec.zoneM ?? 0;
  const barriers = v.state.gates.filter((g) => g.barrier);
  const e = v.energy;
  const R = 128; // of the zone as drawn
  return (
    <section className="zone">
      <h2 className="rule">
        The zone<span className="r">to scale; nobody inside while pressure is raised or held</span>
      </h2>
      <svg
        viewBox="0 0 520 330"
        role="img"
        aria-label={`Zone of ${num(zone, 1)} m. ${barriers.map((b) => `${b.what} ${b.at ? 'Closed' : 'Open'}`).join(' ')}`}
      >
        <defs>
          <pattern id="zoneHatch" width="8" height="8" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <path d="M0 0V8" style={{ stroke: 'var(--hair)', strokeWidth: 2 }} />
          </pattern>
        </defs>
        <circle
          cx="260"
          cy="166"
          r={R}
          style={{ fill: 'url(#zoneHatch)', stroke: 'var(--rej)', strokeWidth: 2.4, strokeDasharray: '9 6' }}
        />
        <path
          d="M222 154h76v24h-76zM216 148v36M304 148v36"
          style={{ fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 2 }}
        />
        <path d={`M260 166L${260 + R * 0.77} ${166 + R * 0.64}`} style={{ stroke: 'var(--ink)', strokeWidth: 1.4 }} />
        <text x={260 + R * 0.42} y={166 + R * 0.32} className="m on-film said" textAnchor="middle">
          {num(zone, 1)} m
        </text>
        {barriers.map((b, i) => {
          const left = i % 2 === 0;
          const y = 60 + Math.floor(i / 2) * 56;
          return (
            <g key={b.code} transform={`translate(${left ? 14 : 470} ${y})`}>
              <rect
                width="36"
                height="14"
                style={{
                  fill: b.at ? 'var(--hold)' : 'none',
                  stroke: 'var(--ink)',
                  strokeWidth: 1.6,
                  strokeDasharray: b.at ? 'none' : '4 3',
                }}
              />
              <path d="M6 14v8M30 14v8" style={{ stroke: 'var(--ink)', strokeWidth: 1.6 }} />
              <text x={left ? 0 : 36} y="38" textAnchor={left ? 'start' : 'end'} className="on-film">
                {i + 1}, {b.at ? 'closed' : 'open'}
              </text>
            </g>
          );
        })}
      </svg>
      {e && (
        <p>
          <b>Stored {num(e.energyJ / 1e6, 3)} MJ</b>, as much as {num(e.tntKg, 3)} kg of explosive; with water it would
          be {num(e.hydroJ, 0)} J. The distance that follows is {num(e.distanceM, 1)} m.{' '}
          <b>A caution only: distance, barriers and permission follow the site’s rules and the responsible person.</b>
        </p>
      )}
    </section>
  );
}
