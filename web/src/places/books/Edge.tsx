import { useElementSize } from '@mantine/hooks';
import { type Chapter, leavesOfStroke } from './edge';

const words: Record<Chapter['chapter'], [string, string]> = {
  front: ['Front', 'Front'],
  joints: ['Joints, in order of tag', 'Joints'],
  tests: ['Tests', 'Tests'],
  tools: ['Tools, gauges', 'Tools'],
  lots: ['Parts, lots', 'Lots'],
  people: ['People', 'People'],
  deviations: ['Deviations', 'Dev.'],
  numbers: ['Numbers', 'No.'],
};

const gap = 12;
const least = 42; // a chapter is never narrower: its name stands under it
const most = 16; // and a leaf never wider

/** The book from its fore edge: a stroke a leaf in the order of binding. Heavy is made, thin to come, striped nobody has yet. */
export function Edge({ chapters, done }: { chapters: Chapter[]; done: number | undefined }) {
  const { ref, width } = useElementSize();
  const total = chapters.reduce((n, c) => n + c.leaves, 0);
  const room = Math.max(width - gap * (chapters.length - 1), 100);
  const spare = room - least * chapters.length;
  const k = Math.min(spare / Math.max(total, 1), most);
  const each = leavesOfStroke(Math.max(...chapters.map((c) => c.leaves)), spare);
  let x = 0;
  let plate = 0;
  let counted = 0;
  const drawn = chapters.map((c) => {
    const from = x;
    const w = least + c.leaves * k;
    const scale = w / c.leaves;
    x += w + gap;
    if (done !== undefined && counted < done) plate = from + Math.min(done - counted, c.leaves) * scale;
    counted += c.leaves;
    return { c, from, w, scale };
  });
  return (
    <section aria-label="The book from its fore edge" className="edge">
      <h2 className="rule">
        From the fore edge, {each === 1 ? 'one stroke a leaf' : `one stroke for ${each} leaves`}
        <span className="r">heavy: made. Thin: to come. Striped: nobody has it yet</span>
      </h2>
      <div ref={ref}>
        <svg
          width={width}
          height={168}
          role="img"
          aria-label={`${total} leaves, ${done === undefined ? 'none made' : `${done} of them made`}`}
        >
          <g transform="translate(0 26)">
            {drawn.map(({ c, from, w, scale }) => (
              <g key={c.chapter} transform={`translate(${from} 0)`}>
                {c.pieces.map((p) =>
                  p.state === 'gap' ? (
                    <rect
                      key={p.from}
                      x={p.from * scale}
                      y={14}
                      width={Math.max(p.leaves * scale, 5)}
                      height={66}
                      style={{ fill: 'url(#hHold)', stroke: 'var(--hold-edge)', strokeWidth: 1.3 }}
                    />
                  ) : (
                    <path
                      key={p.from}
                      d={strokes(p.from, p.leaves, each, scale, p.state === 'made' ? 4 : 14)}
                      style={{
                        stroke: p.state === 'made' ? 'var(--ink)' : 'var(--ink-3)',
                        strokeWidth: p.state === 'made' ? Math.min(3.2, scale * each * 0.6) : 0.9,
                      }}
                    />
                  ),
                )}
                <path d={`M0 80H${w}`} style={{ stroke: 'var(--ink)', strokeWidth: 1.6 }} />
                <path
                  d={`M.5 88v8M${w - 0.5} 88v8M0 92H${w}`}
                  style={{ stroke: 'var(--ink)', strokeWidth: 0.9, fill: 'none' }}
                />
                <text x={w / 2} y={113} textAnchor="middle" className="ch">
                  {words[c.chapter][w > 150 ? 0 : 1]}
                </text>
                <text x={w / 2} y={132} textAnchor="middle" className="n">
                  {c.leaves}
                </text>
                <title>{`${words[c.chapter][0]}, ${c.leaves} ${c.leaves === 1 ? 'leaf' : 'leaves'}`}</title>
              </g>
            ))}
            {done !== undefined && (
              <g transform={`translate(${Math.min(Math.max(plate, 48), width - 48)} 0)`}>
                <path
                  d={`M${plate - Math.min(Math.max(plate, 48), width - 48)} -8V80`}
                  style={{ stroke: 'var(--ink)', strokeWidth: 2.2 }}
                />
                <path d="M-48 -26h96v19h-96z" style={{ fill: 'var(--ink)' }} />
                <text y={-12} textAnchor="middle" className="plate">
                  {done} of {total}
                </text>
              </g>
            )}
          </g>
        </svg>
      </div>
    </section>
  );
}

function strokes(from: number, leaves: number, each: number, scale: number, top: number): string {
  let d = '';
  for (let i = 0; i < leaves; i += each)
    d += `M${((from + i + Math.min(each, leaves - i) / 2) * scale).toFixed(1)} ${top}V80`;
  return d;
}
