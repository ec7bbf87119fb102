import type { FastenerGroup, FastenerState, Plan } from '../api/client';
import { polar, round2 } from './geometry';
import { Rosette, type RosetteProps } from './Rosette';

/** The group that the procedure begins with; there always is one. */
export const firstOf = (plan: Plan): FastenerGroup => plan.groups[0] as FastenerGroup;

/** The group of a code; the first for none. */
export const groupOf = (plan: Plan, code: string | undefined): FastenerGroup =>
  plan.groups.find((g) => g.group === code) ?? firstOf(plan);

type Props = Omit<RosetteProps, 'count' | 'startDeg' | 'numbers' | 'fasteners'> & {
  group: FastenerGroup;
  chalk: number[]; // of the whole joint
  fasteners?: FastenerState[] | undefined; // of the whole joint
};

/** One group of a joint drawn to its own layout. Positions are those of the joint. */
export function GroupRosette({ group, chalk, fasteners, next, prev, look, others, order, onPick, ...rest }: Props) {
  const off = group.offset ?? 0;
  const n = group.layout.count;
  const own = (p: number | undefined) => (p !== undefined && p > off && p <= off + n ? p - off : undefined);
  return (
    <Rosette
      {...rest}
      count={n}
      startDeg={group.layout.startDeg}
      anticlockwise={group.layout.anticlockwise}
      kind={group.layout.kind}
      places={group.places}
      numbers={chalk.slice(off, off + n)}
      fasteners={(fasteners ?? []).slice(off, off + n).map((f) => ({ ...f, position: f.position - off }))}
      next={own(next)}
      prev={own(prev)}
      look={own(look)}
      others={others?.flatMap((o) => (own(o.position) ? [{ ...o, position: own(o.position) as number }] : []))}
      order={order?.flatMap((p) => own(p) ?? [])}
      onPick={onPick ? (p) => onPick(p + off) : undefined}
    />
  );
}

interface StripProps {
  plan: Plan;
  fasteners: FastenerState[] | undefined;
  present: string | undefined; // code of the group in hand
  onChoose?: ((code: string) => void) | undefined;
}

/** All groups of a joint as small drawings, the one in hand marked; around one body when they are its faces. */
export function GroupStrip({ plan, fasteners, present, onChoose }: StripProps) {
  const groups = plan.groups;
  if (groups.length < 2) return null;
  return (
    <div className="groups">
      {groups.some((g) => g.face) && <BodyMap groups={groups} present={present} />}
      {groups.map((g) => {
        const off = g.offset ?? 0;
        const list = (fasteners ?? []).slice(off, off + g.layout.count);
        const done = list.filter((f) => ['done', 'accepted', 'moved_ok'].includes(f.state)).length;
        const begun = list.some((f) => f.state !== 'not_yet');
        const name = g.groupName ?? '';
        const body = (
          <>
            <GroupRosette
              size={40}
              aim={0}
              up={0}
              down={0}
              group={g}
              chalk={plan.chalk}
              fasteners={fasteners}
              label=""
            />
            <span>
              <b title={name}>{name}</b>
              {fasteners ? (
                <small>{done === 0 && begun ? 'begun' : `${done} of ${g.layout.count}`}</small>
              ) : (
                <small>{g.layout.count} off</small>
              )}
            </span>
          </>
        );
        const cls = `grp${g.group === present ? ' on' : ''}`;
        return onChoose ? (
          <button
            key={name}
            type="button"
            className={cls}
            aria-pressed={g.group === present}
            onClick={() => onChoose(g.group ?? '')}
          >
            {body}
          </button>
        ) : (
          <div key={name} className={cls} aria-current={g.group === present ? 'step' : undefined}>
            {body}
          </div>
        );
      })}
    </div>
  );
}

/** The faces around one body, unfolded: where each lies, and which one is in hand. */
function BodyMap({ groups, present }: { groups: FastenerGroup[]; present: string | undefined }) {
  const faces = groups.filter((g) => g.face);
  const now = faces.find((g) => g.group === present);
  return (
    <svg
      width="62"
      height="62"
      viewBox="-52 -52 104 104"
      role="img"
      aria-label={now ? `Face ${now.face} of the body` : 'Faces of the body'}
    >
      <rect
        x="-17"
        y="-17"
        width="34"
        height="34"
        style={{ fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.4 }}
      />
      {faces.map((g) => {
        const [x, y] = polar(36, g.faceDeg ?? 0);
        const [ux, uy] = polar(1, g.faceDeg ?? 0);
        const on = g.group === present;
        return (
          <g key={g.face}>
            {[-5, 5].map((o) => (
              <path
                key={o}
                d={`M${round2(ux * 17 - uy * o)} ${round2(uy * 17 + ux * o)}L${round2(ux * 25 - uy * o)} ${round2(uy * 25 + ux * o)}`}
                style={{ stroke: 'var(--ink)' }}
              />
            ))}
            <circle
              cx={round2(x)}
              cy={round2(y)}
              r="12"
              style={{
                fill: on ? 'var(--now)' : 'var(--film)',
                stroke: on ? 'var(--now)' : 'var(--ink)',
                strokeWidth: on ? 2 : 1.4,
              }}
            />
            <text
              x={round2(x)}
              y={round2(y + 5)}
              textAnchor="middle"
              style={{ font: '700 14px var(--mono)', fill: on ? 'var(--on-now)' : 'var(--ink)' }}
            >
              {g.face}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
