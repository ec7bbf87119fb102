import { useQuery } from '@tanstack/react-query';
import { api, type Comparison, must } from '../../api/client';
import { num } from '../../kit/numbers';

interface Props {
  tag: string;
  a: string;
  b: string;
  names: [a: string, b: string];
}

/** Two runs, bolt by bolt: the earlier one open, the later one filled; below it what was the same and what was not. */
export function Compare({ tag, a, b, names }: Props) {
  const both = useQuery({
    queryKey: ['joint', tag, 'compare', a, b],
    queryFn: () => must(api.GET('/joints/{tag}/life/compare', { params: { path: { tag }, query: { a, b } } })),
  });
  if (both.isError)
    return (
      <p className="wrong" role="alert">
        {(both.error as Error).message}
      </p>
    );
  const c = both.data;
  if (!c) return <p className="empty">Laying one over the other.</p>;
  return (
    <div className="compare">
      <div>
        <h2 className="rule">Bolt by bolt, {c.unit}</h2>
        <Dots c={c} names={names} />
        <p className="says" data-testid="says">
          {c.says}
        </p>
      </div>
      <table className="t">
        <thead>
          <tr>
            <th aria-label="what" />
            <th>{names[0]}</th>
            <th>{names[1]}</th>
          </tr>
        </thead>
        <tbody>
          {c.differences.map((d) => (
            <tr key={d.what}>
              <td className="lab">{d.what}</td>
              <td>{d.a || '–'}</td>
              <td>{d.same ? 'the same' : <b>{d.b || '–'}</b>}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <details>
        <summary>The figures</summary>
        <table className="t">
          <thead>
            <tr>
              <th>Fastener</th>
              <th className="n">{names[0]}</th>
              <th className="n">{names[1]}</th>
            </tr>
          </thead>
          <tbody>
            {c.pairs.map((p) => (
              <tr key={p.fastener}>
                <td>{p.fastener}</td>
                <td className="n">{p.a === undefined ? '–' : num(p.a, 1)}</td>
                <td className="n">{p.b === undefined ? '–' : num(p.b, 1)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </div>
  );
}

const high = 220;
const left = 56;

function Dots({ c, names }: { c: Comparison; names: [string, string] }) {
  const step = c.pairs.length > 16 ? 36 : 56;
  const all = c.pairs.flatMap((p) => [p.a, p.b]).filter((v) => v !== undefined);
  const band = c.doubt > 0 && c.aim > 0 ? [c.aim - c.doubt, c.aim + c.doubt] : [];
  const low = Math.min(...all, ...band);
  const top = Math.max(...all, ...band);
  const room = (top - low || Math.abs(top) * 0.1 || 1) * 0.12;
  const y = (v: number) => 14 + ((top + room - v) / (top - low + 2 * room)) * (high - 40);
  const width = left + c.pairs.length * step + 12;
  return (
    <div style={{ overflowX: 'auto' }}>
      <svg
        width={width}
        height={high}
        role="img"
        aria-label={`${names[0]} and ${names[1]}, ${c.unit}, one above the other for each fastener; the figures stand below as a table`}
      >
        {band.length === 2 && (
          <>
            <rect
              x={left}
              y={y(band[1] ?? 0)}
              width={width - left}
              height={y(band[0] ?? 0) - y(band[1] ?? 0)}
              fill="var(--ok-wash)"
            />
            <path d={`M${left} ${y(c.aim)}H${width}`} stroke="var(--ok)" strokeWidth="2" />
            {[band[0] ?? 0, c.aim, band[1] ?? 0].map((v) => (
              <text key={v} x={left - 8} y={y(v) + 5} textAnchor="end" className="axis">
                {num(v, 0)}
              </text>
            ))}
          </>
        )}
        {c.pairs.map((p, i) => {
          const x = left + (i + 0.5) * step;
          const again = c.repeats.includes(p.fastener);
          return (
            <g key={p.fastener} stroke="var(--ink)" strokeWidth="2">
              {p.a !== undefined && p.b !== undefined && <path d={`M${x} ${y(p.a)}V${y(p.b)}`} strokeWidth="1.2" />}
              {p.a !== undefined && <circle cx={x} cy={y(p.a)} r="5.5" fill="var(--film-2)" />}
              {p.b !== undefined && <circle cx={x} cy={y(p.b)} r="5" fill="var(--ok)" />}
              {again && <circle cx={x} cy={y(p.b ?? p.a ?? 0)} r="11" fill="none" strokeDasharray="4 3" />}
              <text x={x} y={high - 8} textAnchor="middle" stroke="none" className={again ? 'axis strong' : 'axis'}>
                {p.fastener.replace(/^\D+/, '') || p.fastener}
              </text>
            </g>
          );
        })}
      </svg>
      <p className="dim legend">
        <svg width="14" height="14" aria-hidden="true">
          <circle cx="7" cy="7" r="5.5" fill="var(--film-2)" stroke="var(--ink)" strokeWidth="2" />
        </svg>{' '}
        {names[0]}{' '}
        <svg width="14" height="14" aria-hidden="true">
          <circle cx="7" cy="7" r="5.5" fill="var(--ok)" stroke="var(--ink)" strokeWidth="2" />
        </svg>{' '}
        {names[1]}
        {c.doubt > 0 && `; band: what the tools can tell about the aim, ±${num(c.doubt, 0)} ${c.unit}`}
        {c.repeats.length > 0 && '; broken ring: stood out both times'}
      </p>
    </div>
  );
}
