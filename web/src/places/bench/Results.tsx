import type { Answer, Output } from '../../core/calc';
import { figureOf, unitText } from '../../kit/numbers';

const yes: Record<string, string> = { true: 'yes', false: 'no' };

/** The first result large enough to read at arm's length, the others as a list; each can be told in another unit. */
export function Results({ answer, onUnit }: { answer: Answer; onUnit: (key: string, unit: string) => void }) {
  const [first, ...rest] = answer.outputs;
  if (!first) return null;
  const split = rest.some((o) => o.key === 'pitch_pct');
  return (
    <>
      <div className={`bench-res ${tone(first)}`} data-testid="result">
        <b className={(first.number ?? '').length > 9 ? 'long' : ''}>
          {typeof first.value === 'boolean' ? yes[String(first.value)] : first.number}
        </b>
        <span>
          <Unit o={first} onUnit={onUnit} />
          {first.label}
          {first.also && <small>{first.also}</small>}
        </span>
      </div>
      {split && (
        <>
          <div className="rule">Where the torque goes</div>
          <Split answer={answer} />
        </>
      )}
      <dl className="bench-more">
        {rest
          .filter((o) => o.value !== null && !(split && parts.some((p) => o.key.startsWith(p[0]))))
          .map((o) => (
            <div key={o.key} className={tone(o)}>
              <dt>{o.label}</dt>
              <dd>
                <b>{o.number}</b> <Unit o={o} onUnit={onUnit} />
                {o.also && <small>{o.also}</small>}
              </dd>
            </div>
          ))}
      </dl>
    </>
  );
}

const parts: [string, string, string][] = [
  ['pitch_', 'var(--ink)', 'stretches the bolt'],
  ['thread_', 'url(#hCut)', 'rubs in the thread'],
  ['head_', 'url(#hCutB)', 'rubs under the nut'],
];

/** The torque as a bar: only the first part becomes load. */
function Split({ answer }: { answer: Answer }) {
  const of = (key: string) => answer.outputs.find((o) => o.key === key);
  let x = 0;
  return (
    <div className="split">
      <svg viewBox="0 0 574 30" width="100%" aria-hidden="true">
        {parts.map(([key, fill]) => {
          const w = figureOf(of(`${key}pct`)?.value) * 5.72;
          x += w;
          return (
            <rect
              key={key}
              x={x - w + 1}
              y="1"
              width={w}
              height="28"
              style={{ fill, stroke: 'var(--ink)', strokeWidth: 1.3 }}
            />
          );
        })}
      </svg>
      <div className="names">
        {parts.map(([key, , name]) => (
          <span key={key} style={{ flexGrow: figureOf(of(`${key}pct`)?.value) }}>
            <b>{of(`${key}Nm`)?.number}</b> {name}, {of(`${key}pct`)?.number} %
          </span>
        ))}
      </div>
    </div>
  );
}

/** A verdict is told by its word; the colour only helps. */
function tone(o: Output): string {
  if (
    [
      'ok',
      'pass',
      'usable',
      'guaranteed',
      'within_limit',
      'inside',
      'closure_ok',
      'max_ok',
      'ratio_ok',
      'valid',
    ].includes(o.key)
  ) {
    return o.value ? 'good' : 'bad';
  }
  return '';
}

function Unit({ o, onUnit }: { o: Output; onUnit: (key: string, unit: string) => void }) {
  if (!o.unit) return null;
  if (!o.units || o.units.length < 2) return <i>{unitText(o.unit)}</i>;
  return (
    <select
      className="unit"
      aria-label={`Unit of ${o.label}`}
      value={o.unit}
      onChange={(e) => onUnit(o.key, e.currentTarget.value)}
    >
      {o.units.map((u) => (
        <option key={u} value={u}>
          {unitText(u)}
        </option>
      ))}
    </select>
  );
}
