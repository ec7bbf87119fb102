import type { ReactNode } from 'react';
import type { components } from '../../api/schema';
import { polar, round2 } from '../../rosette/geometry';

type Rule = components['schemas']['HouseRule'];
type Choice = components['schemas']['HouseRuleChoice'];

const W = 132;
const H = 96;
const ink = { fill: 'none', stroke: 'var(--ink)', strokeWidth: 1.5 } as const;
const word = { font: '700 11px var(--mono)', fill: 'var(--ink)', textAnchor: 'middle' } as const;

/** A ring of bolts, each with its number in the order of visiting, and the way between the first ones. */
function Ring({ order, way }: { order: number[]; way: boolean }) {
  const n = order.length;
  const at = (position: number) => {
    const [x, y] = polar(39, (360 * (position - 0.5)) / n);
    return [W / 2 + x, H / 2 + y] as const;
  };
  const path = order.slice(0, Math.min(n, 6)).map((p) => at(p).map(round2).join(' '));
  const r = n > 12 ? 6.5 : 8;
  return (
    <>
      <circle cx={W / 2} cy={H / 2} r={39} style={{ ...ink, strokeWidth: 0.8, strokeDasharray: '2 2' }} />
      {way && <path d={`M${path.join('L')}`} style={{ ...ink, stroke: 'var(--now)', strokeWidth: 1.6 }} />}
      {order.map((p, i) => {
        const [x, y] = at(p);
        return (
          <g key={p}>
            <circle cx={round2(x)} cy={round2(y)} r={r} style={{ fill: 'var(--film-2)', stroke: 'var(--ink)' }} />
            <text x={round2(x)} y={round2(y) + 3.5} style={{ ...word, fontSize: n > 12 ? 8 : 9.5 }}>
              {i + 1}
            </text>
          </g>
        );
      })}
    </>
  );
}

/** The stages as bars that rise to the whole. */
function Stages({ stages }: { stages: number[] }) {
  const w = Math.min(26, (W - 16) / stages.length - 6);
  const step = (W - 16) / stages.length;
  return (
    <>
      <path d={`M6 ${H - 14}H${W - 6}M6 22H${W - 6}`} style={{ ...ink, strokeWidth: 0.8 }} />
      {stages.map((s, i) => {
        const h = ((H - 36) * s) / 100;
        const x = 8 + step * i + (step - w) / 2;
        return (
          <g key={x}>
            <rect x={x} y={H - 14 - h} width={w} height={h} style={{ fill: 'var(--ink)' }} />
            <text x={x + w / 2} y={H - 3} style={{ ...word, fontSize: 9.5 }}>
              {Math.round(s)}
            </text>
          </g>
        );
      })}
    </>
  );
}

const cross = <path d="M24 14L108 82M24 82L108 14" style={{ stroke: 'var(--rej)', strokeWidth: 5 }} />;
const hex = (x: number, y: number, r: number, turn = 0) =>
  `M${Array.from({ length: 6 }, (_, i) => {
    const [dx, dy] = polar(r, 60 * i + turn);
    return `${round2(x + dx)} ${round2(y + dy)}`;
  }).join('L')}Z`;
const range = (x: number) => (
  <>
    <path d="M16 52H116M26 42V62M106 42V62" style={ink} />
    <rect x="26" y="47" width="80" height="10" style={{ fill: 'var(--ok-wash)', stroke: 'var(--ink)' }} />
    <path d={`M${x} 36V66M${x - 6} 28L${x} 36L${x + 6} 28Z`} style={{ ...ink, fill: 'var(--ink)', strokeWidth: 2 }} />
    <text x="26" y="80" style={word}>
      low
    </text>
    <text x="106" y="80" style={word}>
      high
    </text>
  </>
);
const grip = (y: number) => (
  <>
    <path d="M46 6V90H62V6" style={ink} />
    {[16, 30, 44, 58, 72].map((m) => (
      <path key={m} d={`M46 ${m}H${m === 72 ? 62 : 55}`} style={{ ...ink, strokeWidth: m === 72 ? 2.4 : 1.2 }} />
    ))}
    <path d={`M82 ${y - 6}L68 ${y}L82 ${y + 6}Z`} style={{ fill: 'var(--now)' }} />
  </>
);
const gun = <path d="M22 26H92V46H60L54 82H36L42 46H22ZM92 32H112V40H92" style={ink} />;
const audited = hex(58, 50, 26);

/** Drawings of choices that no order and no stages draw, by rule and value. */
const still: Record<string, Record<string, ReactNode>> = {
  policy: { low: range(30), middle: range(66), high: range(102) },
  storage: {
    lowest_mark: (
      <>
        {grip(72)}
        <text x="106" y="76" style={word}>
          least
        </text>
      </>
    ),
    maker: (
      <>
        {grip(44)}
        <path d="M88 22H118V70H88ZM94 34H112M94 44H112M94 54H106" style={ink} />
      </>
    ),
  },
  extensions: {
    in_line: <path d="M10 24H96V34H10ZM84 34V74M92 34V74M78 74H98V90H78Z" style={ink} />,
    none: (
      <>
        <path d="M10 24H96V34H10ZM84 34V74M92 34V74M78 74H98V90H78Z" style={ink} />
        {cross}
      </>
    ),
  },
  powered: {
    never: (
      <>
        {gun}
        {cross}
      </>
    ),
    run_down: (
      <>
        {gun}
        <path d="M104 56V82M97 74L104 84L111 74" style={{ ...ink, stroke: 'var(--now)', strokeWidth: 2.4 }} />
      </>
    ),
  },
  audit: {
    moving_on: (
      <>
        <path d={audited} style={ink} />
        <path
          d="M92 30A40 40 0 0 1 92 70M84 64L92 72L99 62"
          style={{ ...ink, stroke: 'var(--now)', strokeWidth: 2.4 }}
        />
      </>
    ),
    no_movement: (
      <>
        <path d={audited} style={ink} />
        <path d="M58 46H122V54H58" style={ink} />
        <text x="100" y="82" style={word}>
          0°
        </text>
      </>
    ),
    marks: (
      <>
        <path d={audited} style={ink} />
        <path d="M58 50L116 22" style={{ ...ink, stroke: 'var(--now)', strokeWidth: 3.4 }} />
      </>
    ),
  },
};

/** What a choice of a rule looks like; nothing for one that words say best. */
export function RuleLooks({ rule, choice }: { rule: Rule; choice: Choice | undefined }) {
  const inside = choice?.order ? (
    <Ring order={choice.order} way={rule.key !== 'numbering'} />
  ) : choice?.stages ? (
    <Stages stages={choice.stages} />
  ) : (
    still[rule.key]?.[choice?.value ?? '']
  );
  if (!inside) return null;
  return (
    <svg className="rule-look" viewBox={`0 0 ${W} ${H}`} aria-hidden="true">
      {inside}
    </svg>
  );
}

/** Whether the choices of a rule are chosen by looking. */
export const drawn = (r: Rule) =>
  (r.choices ?? []).some((c) => c.order || c.stages) || (r.choices ?? []).some((c) => still[r.key]?.[c.value]);
