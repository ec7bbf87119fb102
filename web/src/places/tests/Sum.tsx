import type { PressureTest } from '../../api/client';
import { digits, num } from '../../kit/numbers';

const signed = (v: number) => `${v < 0 ? '−' : '+'}${num(Math.abs(v), 3)} bar`;

/** What became of the pressure in the hold that is judged: fallen, explained by temperature, left over, against what may be lost. */
export function HoldSum({
  v,
  hold,
  working,
  onWorking,
}: {
  v: PressureTest;
  hold: PressureTest['state']['holds'][number];
  working: boolean;
  onWorking: () => void;
}) {
  const { sum } = hold;
  const may = v.spec.lossBar ?? 0;
  const vacuum = v.spec.kind === 'vacuum';
  const lost = sum.lostBar;
  const word = vacuum ? 'gained' : 'lost';
  const span = Math.max(may * 1.6, Math.abs(lost) * 1.15, 1e-9);
  const x = (b: number) => 150 + (b / span) * 230;
  return (
    <section className="hold-sum">
      <h2 className="rule">
        Has it {word} anything
        <span className="r">since {new Date(hold.first.at).toTimeString().slice(0, 5)}</span>
      </h2>
      <dl>
        <dt>
          {sum.changeBar <= 0 ? 'fallen' : 'risen'} at the gauge, {digits(hold.first.bar)} to {digits(hold.last.bar)}
        </dt>
        <dd className="m">{signed(sum.changeBar)}</dd>
        <dt>{sum.warm ? 'explained by the temperature' : 'temperature not read at both ends'}</dt>
        <dd className="m">{signed(sum.explainedBar)}</dd>
        <dt>
          <b>left over</b>
        </dt>
        <dd className="m">
          <b>{signed(sum.changeBar - sum.explainedBar)}</b>
        </dd>
        {sum.ratePaM3s !== undefined && (
          <>
            <dt>as a leak rate</dt>
            <dd className="m">{digits(sum.ratePaM3s, 3)} Pa·m³/s</dd>
          </>
        )}
      </dl>
      <svg viewBox="0 0 396 44" role="img" aria-label={`${num(lost, 3)} bar ${word} of ${num(may, 3)} bar`}>
        <path d="M0 14H396" style={{ stroke: 'var(--ink)', strokeWidth: 1 }} />
        <rect
          x={x(0)}
          y="7"
          width={x(may) - x(0)}
          height="14"
          style={{ fill: 'var(--ok-wash)', stroke: 'var(--ok)', strokeWidth: 1 }}
        />
        <path
          d={`M${Math.max(4, Math.min(392, x(lost)))} 2V26`}
          style={{ stroke: lost > may ? 'var(--rej)' : 'var(--ink)', strokeWidth: 4 }}
        />
        <text x={x(0)} y="40" textAnchor="middle" className="m">
          0
        </text>
        <text x={x(may)} y="40" textAnchor="middle">
          {num(may, 3)} bar
        </text>
      </svg>
      <p>
        <b className={hold.failed ? 'neg' : ''}>{v.state.verdict.word}.</b> {v.state.verdict.sentence}{' '}
        <button type="button" className="linklike" onClick={onWorking} aria-expanded={working}>
          {working ? 'Hide the working' : 'Show the working'}
        </button>
      </p>
    </section>
  );
}
