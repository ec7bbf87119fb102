import { type ReactNode, useLayoutEffect, useRef, useState } from 'react';
import type { Drawing } from './drawings';

interface FigureProps {
  drawing: Drawing;
  boxes: [string, ReactNode][];
  children: ReactNode;
}

/** A drawing with its inputs as boxes on leaders, at the places they belong. On a small screen the boxes stand below it. */
export function Figure({ drawing, boxes, children }: FigureProps) {
  const ref = useRef<HTMLDivElement>(null);
  const [lines, setLines] = useState<[number, number, number, number][]>([]);
  const [w, h] = drawing.size;
  useLayoutEffect(() => {
    const el = ref.current;
    if (!el) return;
    const place = () => {
      const at = el.getBoundingClientRect();
      const svg = el.querySelector('.pic > svg')?.getBoundingClientRect();
      if (!svg) return;
      const k = Math.min(svg.width / w, svg.height / h);
      const [ox, oy] = [svg.left + (svg.width - w * k) / 2 - at.left, svg.top + (svg.height - h * k) / 2 - at.top];
      const out: [number, number, number, number][] = [];
      for (const [key] of boxes) {
        const a = drawing.anchors[key];
        const box = el.querySelector(`[data-key="${key}"] .in`)?.getBoundingClientRect();
        if (!a || !box) continue;
        out.push([
          (a[2] === 'l' ? box.right : box.left) - at.left,
          box.top + box.height / 2 - at.top,
          ox + a[0] * k,
          oy + a[1] * k,
        ]);
      }
      setLines((old) => (JSON.stringify(old) === JSON.stringify(out) ? old : out));
    };
    place();
    const watch = new ResizeObserver(place);
    watch.observe(el);
    for (const b of el.querySelectorAll('.bx')) watch.observe(b);
    return () => watch.disconnect();
  });
  // Boxes stand in the order of their places, so that no leader crosses another.
  const side = (s: 'l' | 'r') =>
    boxes
      .filter(([key]) => drawing.anchors[key]?.[2] === s)
      .sort(([a], [b]) => (drawing.anchors[a]?.[1] ?? 0) - (drawing.anchors[b]?.[1] ?? 0))
      .map(([, node]) => node);
  return (
    <div className={`fig ${boxes.length ? '' : 'alone'}`} ref={ref}>
      {boxes.length > 0 && <div className="side">{side('l')}</div>}
      <div className="pic">
        <svg viewBox={`0 0 ${w} ${h}`} role="img" aria-label={drawing.label} style={{ maxHeight: drawing.max ?? 420 }}>
          {children}
        </svg>
        {drawing.seen && <span className="cap">{drawing.seen}</span>}
      </div>
      {boxes.length > 0 && <div className="side">{side('r')}</div>}
      <svg className="leaders" aria-hidden="true">
        {lines.map(([x1, y1, x2, y2]) => (
          <g key={`${x2} ${y2}`}>
            <path d={`M${x1} ${y1}L${x2} ${y2}`} />
            <circle cx={x2} cy={y2} r="3" />
          </g>
        ))}
      </svg>
    </div>
  );
}
