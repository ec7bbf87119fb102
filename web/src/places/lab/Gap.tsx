import { num } from '../../kit/numbers';

const [tall, foot, left] = [64, 16, 44];

/** How the faces lie after a pull, unrolled: a line that waves where the edge gapes more, and less, than on average. */
export function Gap({ gap, most, tilt, wide }: { gap: number[]; most: number; tilt: number; wide: number }) {
  const bolts = gap.length / 2;
  const x = (i: number) => left + ((wide - left - 6) * i) / gap.length;
  const y = (v: number) => tall / 2 - (v / Math.max(most, 1e-6)) * (tall / 2 - 8);
  const at = [...gap, gap[0] ?? 0];
  const every = Math.ceil((bolts * 22) / (wide - left));
  return (
    <figure className="lab-gap">
      <svg
        width={wide}
        height={tall + foot}
        role="img"
        aria-label={`The faces lie ${num(tilt, 3)} mm out of parallel at the edge`}
      >
        <path d={`M${left} ${tall / 2}H${wide - 6}`} className="mean" />
        <path
          d={`M${left} ${y(most)}V${y(-most)}M${left - 4} ${y(most)}h8M${left - 4} ${y(-most)}h8`}
          className="rule"
        />
        <text x={left - 7} y={y(most) + 5} textAnchor="end">
          {num(most, 2)}
        </text>
        <text x={left - 7} y={y(-most) + 3} textAnchor="end">
          {num(-most, 2)}
        </text>
        <path d={at.map((v, i) => `${i ? 'L' : 'M'}${x(i).toFixed(1)} ${y(v).toFixed(1)}`).join('')} className="face" />
        {Array.from({ length: bolts }, (_, b) => b)
          .filter((b) => b % every === 0)
          .map((b) => (
            <text key={b} x={x(2 * b)} y={tall + 11} textAnchor="middle">
              {b + 1}
            </text>
          ))}
      </svg>
      <figcaption>
        Gap at the edge against its mean, mm, round the bolts: <b className="m">{num(tilt, 3)} mm</b> out of parallel
      </figcaption>
    </figure>
  );
}
