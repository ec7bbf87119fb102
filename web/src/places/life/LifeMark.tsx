import type { LifeMark } from '../../api/client';
import { Glyph } from '../../rosette/Glyph';

interface Props {
  mark: LifeMark;
  family: string;
  count: number;
}

/** A mark of the ruler: its shape says what happened and whether it speaks against the joint, with no need of colour. */
export function MarkShape({ mark: m, family, count }: Props) {
  if (m.lane === 'run') return <Glyph family={family} count={count} state={m.kind} size={30} />;
  const line = m.bad ? 'var(--rej)' : 'var(--ink)';
  const fill = m.bad ? 'url(#life-cross)' : 'var(--film-2)';
  return (
    <svg width="24" height="24" viewBox="-12 -12 24 24" aria-hidden="true">
      <g fill="none" stroke={line} strokeWidth="2" strokeLinejoin="round">
        {m.lane === 'record' && (
          <>
            <path d="M-8 -10H4L8 -6V10H-8Z" fill={fill} />
            <circle cx="0" cy="3" r="3" fill={m.bad ? 'none' : line} />
          </>
        )}
        {m.lane === 'retorque' && <path d="M6 6A8 8 0 1 1 8 -3M8 -9V-2H1" />}
        {m.lane === 'test' &&
          (m.bad ? <path d="M-9 9V-8H-2L9 9Z" fill={fill} /> : <path d="M-9 9V-8H9V9" fill={fill} />)}
        {m.lane === 'deviation' && <path d="M-7 11V-10L8 -6L-7 -1" fill={fill} />}
        {m.lane === 'tool' && <path d="M0 -10L10 0L0 10L-10 0Z" fill={fill} />}
        {m.lane === 'service' &&
          (m.kind === 'correction' ? (
            <path d="M-9 9L-7 3L5 -9L9 -5L-3 7Z" fill={fill} />
          ) : (
            <path d="M0 -10C6 -2 8 2 8 4A8 7 0 0 1 -8 4C-8 2 -6 -2 0 -10Z" fill={fill} />
          ))}
      </g>
    </svg>
  );
}

/** The fillings that the marks use, once a page. */
export function MarkFillings() {
  return (
    <svg width="0" height="0" aria-hidden="true" style={{ position: 'absolute' }}>
      <defs>
        <pattern id="life-cross" width="4" height="4" patternUnits="userSpaceOnUse">
          <path d="M0 0L4 4M4 0L0 4" stroke="var(--rej)" strokeWidth="0.9" />
        </pattern>
      </defs>
    </svg>
  );
}
