import type { Numbers, NumbersRow } from '../../api/client';
import { num } from '../../kit/numbers';

const wide = 560;
const high = 40;

/** From where to where the axis goes, per cent: all pulls and limits, in steps of five. */
export function span(n: Numbers): [from: number, to: number] {
  const at = n.rows.flatMap((r) => r.bins.map((b) => b.at));
  const far = Math.max(5, ...[...at, n.low, n.high].map((v) => Math.abs(v)));
  const end = Math.ceil((far * 1.05) / 5) * 5;
  return [-end, end];
}

interface Props {
  from: number;
  to: number;
  n: Numbers;
}

const place = (v: number, { from, to }: { from: number; to: number }) => ((v - from) / (to - from)) * wide;

/** The limits that most joints have, and the aim, through a row. */
function Band(p: Props & { height: number }) {
  return (
    <>
      {p.n.low < p.n.high && (
        <rect
          x={place(p.n.low, p)}
          width={place(p.n.high, p) - place(p.n.low, p)}
          height={p.height}
          fill="var(--ok-wash)"
        />
      )}
      <path d={`M${place(0, p)} 0V${p.height}`} stroke="var(--ok)" strokeWidth="1.6" />
    </>
  );
}

export function StripAxis(p: { from: number; to: number; zero: string }) {
  const steps = [];
  for (let v = p.from; v <= p.to; v += Math.max(5, Math.ceil(p.to / 20) * 5)) steps.push(v);
  return (
    <svg width={wide} height="22" aria-hidden="true">
      {steps.map((v) => (
        <text key={v} x={Math.min(Math.max(place(v, p), 20), wide - 20)} y="16" textAnchor="middle" className="axis">
          {v === 0 ? p.zero : `${v > 0 ? '+' : ''}${v} %`}
        </text>
      ))}
    </svg>
  );
}

/** The pulls of a row, a dot each, in steps of 0.2 %; triangles are outside their own limits. */
export function Strip({ row, ...p }: Props & { row: NumbersRow }) {
  const tallest = Math.max(1, ...row.bins.map((b) => b.n));
  const each = Math.min(4.2, (high - 6) / tallest);
  const label = `${row.name}: ${row.n} pulls, the middle one ${num(row.middle, 1)} % from the aim, ${row.outside || 'none'} outside`;
  return (
    <svg width={wide} height={high} role="img" aria-label={label}>
      <Band {...p} height={high} />
      {row.bins.map((b) => {
        const x = place(b.at, p);
        if (each < 3)
          return (
            <g key={b.at}>
              <path d={`M${x} ${high - 2}v${-b.n * each}`} stroke="var(--ink)" strokeWidth="2.4" />
              {b.past > 0 && (
                <path
                  d={`M${x - 3.4} ${high - 3 - b.n * each}h6.8l-3.4 -6.6z`}
                  fill="var(--rej)"
                  aria-label={`${b.past} outside`}
                />
              )}
            </g>
          );
        return Array.from({ length: b.n }, (_, i) => {
          const y = high - 4 - i * each;
          return i >= b.n - b.past ? (
            // biome-ignore lint/suspicious/noArrayIndexKey: the dots of a stack are alike
            <path key={`${b.at} ${i}`} d={`M${x - 3.4} ${y + 3}h6.8l-3.4 -6.6z`} fill="var(--rej)" />
          ) : (
            // biome-ignore lint/suspicious/noArrayIndexKey: the dots of a stack are alike
            <circle key={`${b.at} ${i}`} cx={x} cy={y} r="1.9" fill="var(--ink)" />
          );
        });
      })}
      <path d={`M${place(row.middle, p)} 3V${high}`} stroke="var(--ink)" strokeWidth="2.6" />
    </svg>
  );
}

/** All pulls together, by half per cent, with the limits most joints have. */
export function Histogram({ n, zero }: { n: Numbers; zero: string }) {
  const [from, to] = span(n);
  const p = { from, to, n };
  const bars = new Map<number, { n: number; past: number }>();
  for (const b of n.all.bins) {
    const at = Math.round(b.at * 2) / 2;
    const was = bars.get(at) ?? { n: 0, past: 0 };
    bars.set(at, { n: was.n + b.n, past: was.past + b.past });
  }
  const most = Math.max(1, ...[...bars.values()].map((b) => b.n));
  const tall = 150;
  return (
    <svg
      viewBox={`0 0 ${wide} ${tall + 26}`}
      width="100%"
      role="img"
      aria-label={`${n.all.n} pulls by half per cent from their aims; the tallest bar has ${most}`}
    >
      <Band {...p} height={tall} />
      {[...bars].map(([at, count]) => {
        const h = (count.n / most) * (tall - 14);
        const out = (count.past / most) * (tall - 14);
        const w = place(from + 0.5, p);
        const [x, thick] = [place(at, p) - w / 2, Math.max(1, w - 1)];
        return (
          <g key={at}>
            <rect x={x} y={tall - h} width={thick} height={h} fill="var(--ink)" />
            {out > 0 && <rect x={x} y={tall - h} width={thick} height={out} fill="url(#hRejS)" stroke="var(--rej)" />}
          </g>
        );
      })}
      <path d={`M0 ${tall}H${wide}`} stroke="var(--ink)" strokeWidth="1.6" />
      <g transform={`translate(0 ${tall + 2})`}>
        {[from, from / 2, 0, to / 2, to].map((v) => (
          <text key={v} x={Math.min(Math.max(place(v, p), 20), wide - 20)} y="16" textAnchor="middle" className="axis">
            {v === 0 ? zero : `${v > 0 ? '+' : ''}${num(v, 1)} %`}
          </text>
        ))}
      </g>
    </svg>
  );
}
