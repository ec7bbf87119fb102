import type { ReactNode } from 'react';

/** Small drawings of where to look and measure, by name; some are of procedures written before each part had its own (facing.tsx). */

const ink = { fill: 'none', stroke: 'var(--ink)', strokeWidth: 1.5 };

const part = { fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.5 };

const cut = { fill: 'url(#hCut)', stroke: 'var(--ink)', strokeWidth: 1.4 };

const cutB = { fill: 'url(#hCutB)', stroke: 'var(--ink)', strokeWidth: 1.4 };

const mark = { fill: 'none', stroke: 'var(--ok)', strokeWidth: 4 };

const pale = { fill: 'none', stroke: 'var(--ink-3)', strokeWidth: 1, strokeDasharray: '5 4' };

function T({ x, y, children, end }: { x: number; y: number; children: ReactNode; end?: boolean }) {
  return (
    <text x={x} y={y} textAnchor={end ? 'end' : 'start'} style={{ font: '600 14px var(--text)', fill: 'var(--ink)' }}>
      {children}
    </text>
  );
}

/** An arrow from one point to another. */
function Arrow({ d, x, y, deg }: { d: string; x: number; y: number; deg: number }) {
  return (
    <>
      <path d={d} style={{ ...ink, stroke: 'var(--ok)', strokeWidth: 2.4 }} />
      <path d="M0 0l-11 -6v12Z" transform={`translate(${x} ${y}) rotate(${deg})`} style={{ fill: 'var(--ok)' }} />
    </>
  );
}

const Shaft = () => <path d="M10 65H290" style={{ stroke: 'var(--ink-3)', strokeDasharray: '14 4 3 4' }} />;

export const sketches: Record<string, ReactNode> = {
  gasket: (
    <>
      <circle cx="70" cy="65" r="52" style={part} />
      <circle cx="70" cy="65" r="34" style={{ ...part, fill: 'url(#hCut)' }} />
      <circle cx="70" cy="65" r="24" style={{ ...part, fill: 'var(--film)' }} />
      <path d="M88 34L150 24" style={ink} />
      <T x={154} y={28}>
        mark side to the tool
      </T>
      <T x={154} y={74}>
        new, never used twice
      </T>
    </>
  ),
  faces: (
    <>
      <circle cx="70" cy="65" r="52" style={part} />
      {[44, 38, 32].map((r) => (
        <circle key={r} cx="70" cy="65" r={r} style={pale} />
      ))}
      <circle cx="70" cy="65" r="24" style={{ ...part, fill: 'var(--film)' }} />
      <path d="M104 34L92 46" style={{ stroke: 'var(--rej)', strokeWidth: 3 }} />
      <T x={140} y={40}>
        a scratch across the track
      </T>
      <T x={140} y={58}>
        is a leak path
      </T>
    </>
  ),
  quarters: (
    <>
      <circle cx="80" cy="65" r="48" style={part} />
      {[
        ['12', 80, 12],
        ['3', 136, 70],
        ['6', 80, 128],
        ['9', 24, 70],
      ].map(([n, x, y]) => (
        <text key={n} x={x} y={y} textAnchor="middle" style={{ font: '700 15px var(--mono)', fill: 'var(--ink)' }}>
          {n}
        </text>
      ))}
      <T x={160} y={60}>
        from the top, clockwise
      </T>
    </>
  ),
  drive_side: (
    <>
      <rect x="30" y="30" width="120" height="70" rx="10" style={part} />
      <rect x="76" y="100" width="28" height="24" style={cut} />
      <path d="M60 14A40 40 0 0 1 128 18" style={{ ...ink, stroke: 'var(--ok)', strokeWidth: 2.4 }} />
      <path d="M0 0l-11 -6v12Z" transform="translate(131 21) rotate(40)" style={{ fill: 'var(--ok)' }} />
      <T x={170} y={50}>
        square down: tightens
      </T>
      <T x={170} y={70}>
        retainer fully in
      </T>
    </>
  ),
  reaction: (
    <>
      <circle cx="90" cy="70" r="24" style={part} />
      <path d="M90 70L200 70V104" style={{ ...ink, strokeWidth: 9, strokeLinejoin: 'round' }} />
      <rect x="186" y="104" width="70" height="20" style={cut} />
      <Arrow d="M66 30A44 44 0 0 1 118 32" x={121} y={34} deg={40} />
      <T x={150} y={30}>
        arm bears on solid steel,
      </T>
      <T x={150} y={48}>
        hands away from here
      </T>
      <path d="M206 52L206 96" style={{ stroke: 'var(--ink)' }} />
    </>
  ),
  nested: (
    <>
      <Shaft />
      <rect x="60" y="22" width="34" height="86" style={cut} />
      <path d="M94 34H140V96H94Z" style={part} />
      <path d="M94 34V96" style={mark} />
      <T x={160} y={50}>
        seated all round,
      </T>
      <T x={160} y={68}>
        nothing in between
      </T>
    </>
  ),
  taper: (
    <>
      <Shaft />
      <path d="M60 20H160L150 48H74Z" style={cut} />
      <path d="M60 110H160L150 82H74Z" style={cut} />
      <path d="M76 50H148V80H76Z" style={part} />
      <Arrow d="M190 65H154" x={156} y={65} deg={180} />
      <T x={196} y={60}>
        taper to taper,
      </T>
      <T x={196} y={78}>
        drops in by hand
      </T>
    </>
  ),
  mark_notch: (
    <>
      <circle cx="80" cy="65" r="46" style={part} />
      <path d="M80 8V38" style={mark} />
      <path d="M80 92V122" style={pale} />
      <path d="M72 19L80 33L88 19Z" style={{ fill: 'var(--ink)' }} />
      <T x={150} y={30}>
        mark on mark,
      </T>
      <T x={150} y={48}>
        hole on hole
      </T>
    </>
  ),
  lettering: (
    <>
      <path d="M50 96A50 50 0 0 1 150 96" style={{ ...ink, strokeWidth: 16 }} />
      <text x="100" y="70" textAnchor="middle" style={{ font: '700 15px var(--mono)', fill: 'var(--ink)' }}>
        ABC
      </text>
      <Arrow d="M100 44V20" x={100} y={16} deg={270} />
      <T x={170} y={44}>
        lettering as told,
      </T>
      <T x={170} y={62}>
        both parts alike
      </T>
    </>
  ),
  heads_side: (
    <>
      <rect x="70" y="20" width="20" height="90" style={cut} />
      <rect x="90" y="20" width="20" height="90" style={cutB} />
      <rect x="56" y="50" width="76" height="20" style={part} />
      <rect x="40" y="42" width="30" height="36" style={part} />
      <rect x="110" y="44" width="22" height="32" style={part} />
      <T x={20} y={124}>
        head
      </T>
      <T x={116} y={124}>
        nut and washer
      </T>
    </>
  ),
  depth_mark: (
    <>
      <rect x="120" y="30" width="90" height="70" style={cut} />
      <rect x="20" y="50" width="170" height="30" style={part} />
      <path d="M112 44V86" style={mark} />
      <path d="M190 50V80" style={{ ...ink, strokeWidth: 3 }} />
      <T x={40} y={118}>
        depth line
      </T>
      <T x={216} y={70}>
        to the stop
      </T>
    </>
  ),
  gap_stays: (
    <>
      <rect x="40" y="24" width="70" height="80" style={cut} />
      <rect x="124" y="24" width="70" height="80" style={cutB} />
      <path d="M110 114H124M117 108V120" style={{ stroke: 'var(--ok)', strokeWidth: 2 }} />
      <T x={206} y={56}>
        a gap must
      </T>
      <T x={206} y={74}>
        remain here
      </T>
    </>
  ),
  flush: (
    <>
      <path d="M30 60H150V104H30Z" style={cut} />
      <path d="M150 60H210V104H150Z" style={part} />
      <path d="M20 60H230" style={mark} />
      <T x={60} y={44}>
        flush, no edge to be felt
      </T>
    </>
  ),
  clock: (
    <>
      <circle cx="70" cy="65" r="50" style={part} />
      {[0, 30, 60, 90, 120, 150, 180, 210, 240, 270, 300, 330].map((deg) => (
        <path key={deg} d="M70 19V27" transform={`rotate(${deg} 70 65)`} style={ink} />
      ))}
      <path d="M70 65V108" style={{ ...ink, strokeWidth: 4 }} />
      <T x={140} y={48}>
        seen from your side:
      </T>
      <T x={140} y={66}>
        12 top, 3 right,
      </T>
      <T x={140} y={84}>
        6 bottom, 9 left
      </T>
    </>
  ),
  middle: (
    <>
      <rect x="30" y="30" width="180" height="70" style={part} />
      <path d="M120 18V112" style={pale} />
      <circle cx="120" cy="65" r="18" style={{ ...ink, stroke: 'var(--ok)', strokeWidth: 3 }} />
      <Arrow d="M50 65H86" x={92} y={65} deg={0} />
      <Arrow d="M190 65H154" x={148} y={65} deg={180} />
      <T x={220} y={70}>
        to the middle
      </T>
    </>
  ),
  key: (
    <>
      <circle cx="80" cy="70" r="44" style={part} />
      <rect x="68" y="18" width="24" height="24" style={cut} />
      <path d="M68 18V42M92 18V42" style={mark} />
      <T x={146} y={34}>
        key bears on its sides,
      </T>
      <T x={146} y={52}>
        clear at the top
      </T>
    </>
  ),
};
