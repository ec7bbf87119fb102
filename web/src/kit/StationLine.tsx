import { hexagon } from '../rosette/geometry';
import './kit.css';

export interface StationOnLine {
  code: string;
  name: string;
  sub: string;
  state: 'done' | 'now' | 'ahead' | 'stopped';
  flag?: string | undefined;
}

/** The line a joint travels. A station opens when the one before is cleared; earlier ones can always be looked at. */
export function StationLine({
  stations,
  viewed,
  onView,
}: {
  stations: StationOnLine[];
  viewed: string;
  onView: (code: string) => void;
}) {
  return (
    <nav className="station-line" aria-label="Stations of this joint">
      {stations.map((s) => (
        <button
          key={s.code}
          type="button"
          className={`station${s.state === 'now' || s.state === 'stopped' ? ' present' : ''}${s.code === viewed ? ' viewed' : ''}`}
          disabled={s.state === 'ahead'}
          aria-current={s.code === viewed ? 'step' : undefined}
          onClick={() => onView(s.code)}
        >
          <i className={`track${s.state === 'done' ? ' done' : ''}`} />
          <Hexagon state={s.state} />
          <span>
            <b>{s.name}</b>
            {!s.flag && <small>{s.sub}</small>}
          </span>
          {s.flag && <em className="flag">{s.flag}</em>}
          <i className="sr">
            {s.state === 'done'
              ? 'cleared'
              : s.state === 'now'
                ? 'present'
                : s.state === 'stopped'
                  ? 'stopped'
                  : 'ahead'}
          </i>
        </button>
      ))}
    </nav>
  );
}

function Hexagon({ state }: { state: string }) {
  return (
    <svg width="40" height="40" viewBox="-20 -20 40 40" aria-hidden="true">
      {state === 'now' && (
        <>
          <path d={hexagon(0, 0, 19, 30)} style={{ fill: 'var(--film-2)', stroke: 'var(--now)', strokeWidth: 3 }} />
          <path d={hexagon(0, 0, 12, 30)} style={{ fill: 'var(--now)' }} />
        </>
      )}
      {state === 'done' && (
        <>
          <path d={hexagon(0, 0, 14, 30)} style={{ fill: 'var(--ok)' }} />
          <path d="M-5.5 .5l3.8 4.2l7.4 -8.6" style={{ fill: 'none', stroke: 'var(--on-ok)', strokeWidth: 2.6 }} />
        </>
      )}
      {state === 'stopped' && (
        <>
          <path d={hexagon(0, 0, 16, 30)} style={{ fill: 'url(#hHold)', stroke: 'var(--hold-edge)', strokeWidth: 2 }} />
          <circle r="8.5" style={{ fill: 'var(--hold)' }} />
          <path d="M-3 -5V5M3 -5V5" style={{ stroke: 'var(--hold-line)', strokeWidth: 3 }} />
        </>
      )}
      {state === 'ahead' && (
        <path d={hexagon(0, 0, 13, 30)} style={{ fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.3 }} />
      )}
    </svg>
  );
}
