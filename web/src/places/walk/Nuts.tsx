import type { WalkJoint } from '../../api/client';
import { hexagon } from '../../rosette/geometry';
import { turnWords } from '../joint/hand';

const [half, nut, step] = [46, 26, 5];

/** How a drawn nut stands, in words. */
const words = (deg: number) =>
  deg === 0 ? 'in line' : `${turnWords(Math.abs(deg))}, ${deg < 0 ? 'loose' : 'the way it is tightened'}`;

/** Nuts as they are to look: each is turned by dragging, or by its keys, until it looks like the real one. */
export function Nuts({
  drawn,
  turned,
  onTurn,
}: {
  drawn: WalkJoint['drawn'];
  turned: Record<number, number>;
  onTurn: (fastener: number, deg: number) => void;
}) {
  return (
    <div className="walk-nuts">
      {drawn.map((d) => (
        <Drawn key={d.fastener} d={d} deg={turned[d.fastener] ?? 0} onTurn={(deg) => onTurn(d.fastener, deg)} />
      ))}
    </div>
  );
}

function Drawn({ d, deg, onTurn }: { d: WalkJoint['drawn'][number]; deg: number; onTurn: (deg: number) => void }) {
  const to = (v: number) => onTurn(Math.max(-180, Math.min(180, Math.round(v / step) * step)));
  const drag = (e: React.PointerEvent<HTMLDivElement>) => {
    if (!e.currentTarget.hasPointerCapture(e.pointerId)) return;
    const box = e.currentTarget.getBoundingClientRect();
    const [x, y] = [e.clientX - box.left - box.width / 2, e.clientY - box.top - box.height / 2];
    if (Math.hypot(x, y) > 6) to((Math.atan2(x, -y) * 180) / Math.PI);
  };
  return (
    <figure>
      <div
        role="slider"
        tabIndex={0}
        aria-label={`Mark of ${d.name}`}
        aria-valuemin={-180}
        aria-valuemax={180}
        aria-valuenow={deg}
        aria-valuetext={words(deg)}
        onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
        onPointerMove={drag}
        onPointerUp={(e) => e.currentTarget.releasePointerCapture(e.pointerId)}
        onKeyDown={(e) => {
          const by = { ArrowRight: step, ArrowUp: step, ArrowLeft: -step, ArrowDown: -step }[e.key];
          if (by === undefined && e.key !== 'Home') return;
          e.preventDefault();
          to(by === undefined ? 0 : deg + by);
        }}
      >
        <svg viewBox={`${-half} ${-half} ${2 * half} ${2 * half}`} aria-hidden="true">
          <circle r={half - 2} className="face" />
          <path d={`M0 ${-half + 2}V${-nut - 2}`} className="mark" />
          <g transform={`rotate(${deg})`}>
            <path d={hexagon(0, 0, nut, 0)} className="nut" />
            <circle r="11" className="stud" />
            <path d={`M0 ${-nut + 1}V-11`} className="mark" />
          </g>
        </svg>
      </div>
      <figcaption>
        <b className="m">{d.name}</b>
        {d.watch && ' stood out before'}
        <br />
        {words(deg)}
      </figcaption>
    </figure>
  );
}
