import type { Coach, Tool } from '../api/client';
import { num } from './numbers';

interface CoachProps {
  coach: Coach;
  wrench: Tool;
  width: number;
  compact?: boolean;
}

/** The scale of the wrench drawn at its setting: which main line shows, and which mark of the grip stands on the long line. */
export function ScaleCoach({ coach, wrench, width: W, compact }: CoachProps) {
  const H = compact ? 92 : 160;
  const cy = H / 2;
  const px = compact ? 56 : 78;
  const major = wrench.mainStep;
  const divisions = Math.round(major / wrench.graduation);
  const val = coach.set;
  const hS = compact ? 20 : 30;
  const hT = compact ? 42 : 58;
  const edge = compact ? 132 : 190;
  const taper = compact ? 62 : 84;
  const grip = edge - taper;
  const xr = W - 14;
  const x = (v: number) => edge + ((v - val) / major) * px;
  const lines: number[] = [];
  for (let v = coach.visibleLine + major / 2; x(v) < xr - 16 && v <= wrench.ratedMax; v += major / 2)
    if (v > val + 1e-9) lines.push(v);
  const step = compact ? 27 : 25;
  const f = (n: number) => Math.round(n * 10) / 10;
  const markText = (m: number) => num(m * wrench.graduation, 2);
  return (
    <svg
      width={W}
      height={H}
      viewBox={`0 0 ${W} ${H}`}
      style={{ maxWidth: '100%', overflow: 'visible' }}
      role="img"
      aria-label={`Set the wrench: edge of the grip on the ${num(coach.visibleLine)} line, then ${markText(coach.mark)} more on the grip`}
    >
      <path
        d={`M${edge} ${cy - hS}H${xr}M${edge} ${cy + hS}H${xr}`}
        style={{ stroke: 'var(--ink)', strokeWidth: 1.6 }}
      />
      <path
        d={`M${xr} ${cy - hS}q7 ${hS / 2} 0 ${hS}t0 ${hS}`}
        style={{ fill: 'none', stroke: 'var(--ink)', strokeWidth: 1.2 }}
      />
      {lines.map((v) => {
        const main = Math.abs((v / major) % 1) < 0.01 || Math.abs(((v / major) % 1) - 1) < 0.01;
        return (
          <g key={v}>
            <path
              d={`M${f(x(v))} ${cy}v${main ? -hS + 2 : hS * 0.42}`}
              style={{ stroke: 'var(--ink)', strokeWidth: main ? 2.2 : 1.2 }}
            />
            {main && (
              <text
                x={f(x(v))}
                y={cy + hS - (compact ? 4 : 7)}
                textAnchor="middle"
                style={{ font: `600 ${compact ? 14 : 17}px var(--mono)`, fill: 'var(--ink-2)' }}
              >
                {num(v)}
              </text>
            )}
          </g>
        );
      })}
      <path d={`M${edge} ${cy}H${xr - 4}`} style={{ stroke: 'var(--now)', strokeWidth: 2.4 }} />
      <path
        d={`M${edge} ${cy - hS - 2}L${grip} ${cy - hT}H0M${edge} ${cy + hS + 2}L${grip} ${cy + hT}H0M${grip} ${cy - hT}V${cy + hT}`}
        style={{ fill: 'none', stroke: 'var(--ink)', strokeWidth: 1.6 }}
      />
      <rect x="0" y={cy - hT} width={grip - 8} height={2 * hT} style={{ fill: 'url(#hCut)' }} />
      <rect x="0" y={cy - hT} width={grip - 8} height={2 * hT} style={{ fill: 'url(#hCutB)' }} />
      {[-3, -2, -1, 0, 1, 2, 3].map((i) => {
        const m = (coach.mark + i + divisions * 10) % divisions;
        const th = (i * step * Math.PI) / 180;
        const on = i === 0;
        const y = (share: number) => f(cy - Math.sin(th) * (hS + (hT - hS) * share));
        return (
          <g key={i}>
            <path
              d={`M${edge - 1} ${f(cy - Math.sin(th) * hS)}L${f(edge - taper * (on ? 0.5 : 0.34))} ${y(on ? 0.5 : 0.34)}`}
              style={{ stroke: on ? 'var(--now)' : 'var(--ink)', strokeWidth: on ? 4.5 : 1.5 }}
            />
            {Math.abs(i) <= 2 && (
              <text
                x={f(edge - taper * (on ? 0.56 : 0.46))}
                y={y(0.8) + (on ? (compact ? 8 : 10) : 5)}
                textAnchor="end"
                style={{
                  font: `700 ${on ? (compact ? 24 : markText(m).length > 2 ? 22 : 30) : compact ? 13 : 15}px var(--mono)`,
                  fill: on ? 'var(--now)' : 'var(--ink-3)',
                }}
              >
                {on || Math.abs(i) === 1 || !compact ? markText(m) : ''}
              </text>
            )}
          </g>
        );
      })}
      <path d={`M${edge} ${cy - hS - 2}V${cy + hS + 2}`} style={{ stroke: 'var(--ink)', strokeWidth: 2.6 }} />
      <path
        d={`M${f(x(coach.visibleLine))} ${cy - hS - (compact ? 8 : 34)}V${cy - 8}`}
        style={{ stroke: 'var(--now)', strokeWidth: 1.8, strokeDasharray: '4 3' }}
      />
      {compact ? (
        <text
          x={f(x(coach.visibleLine) + 8)}
          y={cy - hS - 8}
          style={{ font: '600 15px var(--text)', fill: 'var(--ink)' }}
        >
          edge on <tspan style={{ font: '700 17px var(--mono)', fill: 'var(--now)' }}>{num(coach.visibleLine)}</tspan>,
          then <tspan style={{ font: '700 17px var(--mono)', fill: 'var(--now)' }}>{markText(coach.mark)}</tspan> more
        </text>
      ) : (
        <>
          <text
            x={f(x(coach.visibleLine) + 9)}
            y={cy - hS - 22}
            style={{ font: '600 16px var(--text)', fill: 'var(--ink)' }}
          >
            first: edge of the grip on the{' '}
            <tspan style={{ font: '700 19px var(--mono)', fill: 'var(--now)' }}>{num(coach.visibleLine)}</tspan> line
          </text>
          <path
            d={`M${edge + 9} ${cy + 3}V${cy + hS + 22}H${edge + 18}`}
            style={{ fill: 'none', stroke: 'var(--now)', strokeWidth: 1.6 }}
          />
          <text x={edge + 23} y={cy + hS + 28} style={{ font: '600 16px var(--text)', fill: 'var(--ink)' }}>
            then: on to mark{' '}
            <tspan style={{ font: '700 19px var(--mono)', fill: 'var(--now)' }}>{markText(coach.mark)}</tspan> at the
            long line, and lock
          </text>
        </>
      )}
    </svg>
  );
}
