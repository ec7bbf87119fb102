import type { PressureTest } from '../../api/client';
import { digits, num } from '../../kit/numbers';
import { curves, ticks } from './chart';

const W = 824;
const H = 412;
const [left, right, top, bottom] = [62, 16, 30, 330];

/** Pressure by the clock: broken as planned, heavy as read, the band in which the judged hold stands, the temperature under it. */
export function Trace({ v, now }: { v: PressureTest; now: number }) {
  const c = curves(v, now);
  const x = (min: number) => left + (min / c.end) * (W - left - right);
  const y = (bar: number) => bottom - (bar / c.top) * (bottom - top);
  const path = (list: readonly (readonly [number, number])[]) =>
    list.map(([m, b], i) => `${i ? 'L' : 'M'}${num(x(m), 1)} ${num(y(b), 1)}`).join('');
  const at = (min: number) => new Date(c.zero + min * 60_000).toTimeString().slice(0, 5);
  const last = c.read.at(-1);
  const lastTemp = c.temps.at(-1);
  const warm = c.temps.map((t) => t[1]);
  const lowest = Math.min(...warm);
  const spread = Math.max(0.5, Math.max(...warm) - lowest);
  const ty = (t: number) => 404 - ((t - lowest) / spread) * 22; // under the axis of time
  const lasts = !v.sealed && v.state.phase !== 'signing';
  const words = last
    ? `${v.state.trace.length} readings, the last ${digits(last[1])} bar at ${at(last[0])}`
    : 'Nothing read yet';
  return (
    <figure className="trace">
      <figcaption className="rule">
        Pressure by the clock<span className="r">broken: as planned. Heavy: as read at the gauge</span>
      </figcaption>
      <svg viewBox={`0 0 ${W} ${H}`} role="img" aria-label={`Pressure by the clock. ${words}`}>
        {lasts && c.here > 0 && (
          <rect x={left} y={top} width={x(Math.min(c.here, c.end)) - left} height={bottom - top} className="gone" />
        )}
        {ticks(c.top).map((b) => (
          <g key={b}>
            <path d={`M${left} ${y(b)}H${W - right}`} className="grid" />
            <text x={left - 8} y={y(b) + 5} textAnchor="end" className="m">
              {digits(b)}
            </text>
          </g>
        ))}
        <text x={left - 8} y={top - 14} textAnchor="end">
          bar{v.spec.gauge.absolute ? ' abs.' : ''}
        </text>
        {ticks(c.end).map((m) => (
          <g key={m}>
            <path d={`M${x(m)} ${bottom}v6`} className="axis" />
            <text x={x(m)} y={bottom + 24} textAnchor="middle" className="m">
              {at(m)}
            </text>
          </g>
        ))}
        <path d={`M${left} ${top}V${bottom}H${W - right}`} className="axis" />
        <path d={path(c.planned)} className="planned" />
        {v.state.holds.map((h) => {
          const from = c.minutes(h.first.at);
          const to = from + h.min;
          if (h.min <= 0) return null;
          const loss = v.spec.lossBar ?? 0;
          const up = v.spec.kind === 'vacuum';
          return (
            <g key={h.step}>
              {h.judged && (
                <rect
                  x={x(from)}
                  width={Math.max(2, x(to) - x(from))}
                  y={y(h.first.bar + (up ? loss : 0))}
                  height={Math.max(3, y(h.first.bar) - y(h.first.bar + loss))}
                  className="band"
                />
              )}
              <path
                d={`M${x(from)} ${y(h.bar) - 22}V${y(h.bar) - 8}M${x(to)} ${y(h.bar) - 22}V${y(h.bar) - 8}M${x(from)} ${y(h.bar) - 15}H${x(to)}`}
                className="axis"
              />
              <text x={(x(from) + x(to)) / 2} y={y(h.bar) - 19} textAnchor="middle" className="on-film">
                {h.judged ? 'hold ' : ''}
                {num(h.min)} min
              </text>
            </g>
          );
        })}
        <path d={path(c.read)} className="read" />
        {c.read.map(([m, b]) => (
          <circle key={m} cx={x(m)} cy={y(b)} r="3.5" className="dot" />
        ))}
        {last && (
          <g>
            <circle cx={x(last[0])} cy={y(last[1])} r="7" className="last" />
            <text
              x={x(last[0]) + (x(last[0]) > W - 160 ? -14 : 14)}
              y={y(last[1]) + (y(last[1]) > bottom - 40 ? -14 : 26)}
              textAnchor={x(last[0]) > W - 160 ? 'end' : 'start'}
              className="m on-film said"
            >
              {digits(last[1])} at {at(last[0])}
            </text>
          </g>
        )}
        {lastTemp && (
          <g>
            <text x={left - 8} y="398" textAnchor="end">
              °C
            </text>
            <path
              d={c.temps.map(([m, t], i) => `${i ? 'L' : 'M'}${num(x(m), 1)} ${num(ty(t), 1)}`).join('')}
              className="temp"
            />
            <text x={Math.min(x(lastTemp[0]) + 8, W - 90)} y={ty(lastTemp[1]) + 5} className="m on-film">
              {num(lastTemp[1], 1)} °C
            </text>
          </g>
        )}
      </svg>
      <table className="sr">
        <caption>Readings</caption>
        <tbody>
          {v.state.trace.map((p) => (
            <tr key={p.at + p.bar}>
              <td>{new Date(p.at).toTimeString().slice(0, 8)}</td>
              <td>{digits(p.bar)} bar</td>
              <td>{p.tempC === undefined ? '' : `${num(p.tempC, 1)} °C`}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </figure>
  );
}
