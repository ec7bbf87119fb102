import type { ReactNode } from 'react';

/** Small drawings of which way a part goes, by name. Each shows the right way; what it means stands beside it in words. */

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
  arm_side: (
    <>
      <rect x="40" y="40" width="110" height="56" rx="8" style={part} />
      <rect x="84" y="96" width="24" height="22" style={cut} />
      <path d="M50 96V118H30" style={{ ...ink, strokeWidth: 7 }} />
      <T x={170} y={56}>
        square and arm
      </T>
      <T x={170} y={74}>
        on the same side
      </T>
    </>
  ),
  step_in: (
    <>
      <Shaft />
      <path d="M70 20H130V44H110V86H130V110H70Z" style={cut} />
      <rect x="110" y="44" width="40" height="42" style={part} />
      <Arrow d="M180 65H150" x={152} y={65} deg={180} />
      <T x={186} y={60}>
        step to the drive,
      </T>
      <T x={186} y={78}>
        bush nests in it
      </T>
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
  flat_down: (
    <>
      <path d="M40 40H52L60 30H120L128 40H140V92H40Z" style={part} />
      <path d="M30 92H150" style={{ ...ink, strokeWidth: 3 }} />
      <path d="M40 92H140" style={mark} />
      <T x={166} y={46}>
        chamfer up
      </T>
      <T x={166} y={96}>
        flat side down
      </T>
    </>
  ),
  cone: (
    <>
      <path d="M40 60L60 40H130L150 60" style={{ ...ink, strokeWidth: 4 }} />
      <path d="M40 72L60 92H130L150 72" style={{ ...ink, strokeWidth: 4 }} />
      <T x={170} y={48}>
        second: cone up
      </T>
      <T x={170} y={92}>
        first: cone down
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
  half_turn: (
    <>
      <circle cx="70" cy="65" r="40" style={part} />
      <circle cx="190" cy="65" r="40" style={part} />
      <circle cx="70" cy="34" r="6" style={{ fill: 'var(--ink)' }} />
      <circle cx="190" cy="96" r="6" style={{ fill: 'var(--ink)' }} />
      <T x={40} y={122}>
        first disc
      </T>
      <T x={150} y={122}>
        second, half a turn on
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
  arrow: (
    <>
      <path d="M20 40H280M20 90H280" style={{ ...ink, strokeWidth: 2.4 }} />
      <Arrow d="M60 65H180" x={190} y={65} deg={0} />
      <rect x="212" y="48" width="40" height="34" style={part} />
      <path d="M220 65h20m-7 -6l8 6l-8 6" style={{ ...ink, strokeWidth: 2.4 }} />
      <T x={60} y={32}>
        flow
      </T>
      <T x={206} y={112}>
        arrow with the flow
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
  ferrules: (
    <>
      <path d="M20 55H280M20 75H280" style={{ ...ink, strokeWidth: 2 }} />
      <path d="M200 40L250 55H200Z" style={cut} />
      <path d="M200 90L250 75H200Z" style={cut} />
      <path d="M150 42L190 55H150Z" style={part} />
      <path d="M150 88L190 75H150Z" style={part} />
      <path d="M110 36L138 55H110Z" style={part} />
      <path d="M110 94L138 75H110Z" style={part} />
      <T x={64} y={28}>
        back
      </T>
      <T x={144} y={28}>
        front
      </T>
      <T x={214} y={28}>
        cone
      </T>
      <T x={60} y={120}>
        sharp edge to the cone, big side to the nut
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
  folded: (
    <>
      <rect x="20" y="24" width="200" height="82" rx="36" style={part} />
      <path
        d="M60 52C110 30 150 60 190 48M60 80C110 96 150 70 190 82M60 52C46 62 46 70 60 80"
        style={{ ...ink, strokeWidth: 2.4 }}
      />
      <T x={230} y={60}>
        one fold,
      </T>
      <T x={230} y={78}>
        no twist
      </T>
    </>
  ),
  push_off: (
    <>
      <circle cx="80" cy="65" r="50" style={part} />
      <circle cx="80" cy="65" r="20" style={{ ...part, fill: 'var(--film)' }} />
      <circle cx="80" cy="28" r="8" style={ink} />
      <circle cx="112" cy="84" r="8" style={{ fill: 'var(--ink)' }} />
      <circle cx="48" cy="84" r="8" style={{ fill: 'var(--ink)' }} />
      <T x={150} y={34}>
        open: fitting hole
      </T>
      <T x={150} y={88}>
        dark: push-off holes
      </T>
    </>
  ),
  backing: (
    <>
      <rect x="90" y="14" width="8" height="102" style={part} />
      <rect x="98" y="40" width="16" height="50" style={cut} />
      <rect x="60" y="56" width="80" height="18" style={part} />
      <rect x="46" y="50" width="16" height="30" style={part} />
      <rect x="114" y="50" width="16" height="30" style={part} />
      <path d="M98 40V90" style={mark} />
      <T x={150} y={58}>
        backing plate inside,
      </T>
      <T x={150} y={76}>
        behind every bolt
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
