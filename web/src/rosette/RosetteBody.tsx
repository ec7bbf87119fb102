import type { JointLayout } from './geometry';

/** What the fasteners hold, behind them. */
export function Body({ kind, l, k, thin }: { kind: string; l: JointLayout; k: number; thin: boolean }) {
  const xs = Array.from({ length: l.count }, (_, i) => l.point(i + 1)[0]);
  const ys = Array.from({ length: l.count }, (_, i) => l.point(i + 1)[1]);
  const pad = l.nutRadius + 6;
  const [x0, x1, y0, y1] = [
    Math.min(...xs) - pad,
    Math.max(...xs) + pad,
    Math.min(...ys) - pad,
    Math.max(...ys) + pad,
  ].map((v) => v * k) as [number, number, number, number];
  const ink = { fill: 'none', stroke: 'var(--ink)', strokeWidth: thin ? 1 : 1.25 };
  const pale = { fill: 'none', stroke: 'var(--ink-3)', strokeWidth: 1, strokeDasharray: '4 3' };
  switch (kind) {
    case 'rectangle':
      return (
        <>
          <rect x={x0} y={y0} width={x1 - x0} height={y1 - y0} rx={10 * k} style={ink} />
          <rect
            x={x0 + 20 * k}
            y={y0 + 20 * k}
            width={Math.max(4, x1 - x0 - 40 * k)}
            height={Math.max(4, y1 - y0 - 40 * k)}
            rx={4 * k}
            style={pale}
          />
        </>
      );
    case 'pair':
      return (
        <>
          <circle r={34 * k} style={ink} />
          <circle r={29 * k} style={ink} />
          {xs.map((x, i) => (
            <path
              key={x}
              d={`M${(x * 34 * k) / 56} ${((ys[i] ?? 0) * 34 * k) / 56}L${x * k} ${(ys[i] ?? 0) * k}`}
              style={{ stroke: 'var(--ink)', strokeWidth: 8 * k, opacity: 0.12 }}
            />
          ))}
        </>
      );
    case 'rows':
      return (
        <>
          <rect x={x0} y={y0} width={x1 - x0} height={y1 - y0} style={ink} />
          <path d={`M0 ${y0}V${y1}`} style={pale} />
        </>
      );
    case 'stack':
      return (
        <>
          {[...new Set(xs)].map((x) => (
            <path key={x} d={`M${x * k} ${y0}V${y1}`} style={{ ...ink, strokeWidth: 4 }} />
          ))}
          <path d={`M${x0} ${y1}H${x1}`} style={ink} />
        </>
      );
    case 'layers':
      return (
        <>
          {[...new Set(ys)].map((y) => (
            <path key={y} d={`M${x0} ${(y + l.nutRadius + 3) * k}H${x1}`} style={ink} />
          ))}
        </>
      );
    case 'single':
      return <circle r={66 * k} style={pale} />;
  }
  return <rect x={x0} y={y0} width={x1 - x0} height={y1 - y0} rx={6 * k} style={pale} />;
}
