import type { ReactNode } from 'react';
import { cut, cutB, hex, ink, line, pair, part, small, soft, Two } from './two';

/** Which way a part faces and how far it goes in: each part the right way beside the same part the wrong way. */

const film = { ...part, fill: 'var(--film)' };
const turned = (deg: number, what: ReactNode) => <g transform={`rotate(${deg} 75 52)`}>{what}</g>;
const mirrored = (what: ReactNode) => <g transform="translate(150 0) scale(-1 1)">{what}</g>;
const tip = (x: number, y: number, deg: number) => (
  <path d="M0 0l-10 -6v12Z" transform={`translate(${x} ${y}) rotate(${deg})`} style={soft} />
);

const bladder = (folded: boolean) => (
  <>
    <rect x="6" y="14" width="138" height="76" rx="30" style={cut} />
    <rect x="16" y="24" width="118" height="56" rx="22" style={film} />
    {folded ? (
      <path d="M28 40H122C130 40 130 64 122 64H28C18 64 18 40 28 40ZM30 52H122" style={part} />
    ) : (
      <path d="M24 38C60 38 60 66 96 66H126V40H96C60 40 60 68 24 68ZM54 44L66 60M66 44L54 60" style={part} />
    )}
  </>
);
const springWashers = (meet: boolean) => (
  <>
    <path d="M66 4H84V100H66Z" style={part} />
    <path d={meet ? 'M24 50L46 34H104L126 50' : 'M24 34L46 50H104L126 34'} style={line} />
    <path d="M24 56L46 72H104L126 56" style={line} />
  </>
);
const nutSide = (down: boolean) => (
  <>
    <path d="M10 84H140V98H10Z" style={cut} />
    {turned(down ? 0 : 180, <path d="M34 84V30L46 20H104L116 30V84Z" style={part} />)}
    <path d="M58 20V84M92 20V84" style={ink} />
  </>
);
const holesMeet = (meet: boolean) => (
  <>
    <path d="M14 24H136V50H14Z" style={cut} />
    <path d="M14 52H136V78H14Z" style={cutB} />
    <path d="M36 24H48V50H36ZM100 24H110V50H100Z" style={film} />
    <path d={meet ? 'M36 52H48V78H36ZM100 52H110V78H100Z' : 'M60 52H72V78H60ZM120 52H130V78H120Z'} style={film} />
    {meet && <path d="M42 16V88" style={{ ...ink, strokeDasharray: '4 3' }} />}
    <text x="42" y="16" style={small}>
      vent
    </text>
    <text x="105" y="16" style={small}>
      dowel
    </text>
  </>
);
const stopPin = (opposite: boolean) => (
  <>
    <path d="M48 26H102V78H48Z" style={part} />
    <circle cx="75" cy="52" r="18" style={film} />
    <circle cx="54" cy="32" r="4" style={soft} />
    <path d="M4 40H48V64H4ZM102 40H146V64H102Z" style={cut} />
    <path d={opposite ? 'M140 30V74' : 'M10 30V74'} style={{ ...line, strokeWidth: 8 }} />
    <text x="54" y="20" style={small}>
      pin
    </text>
    <text x={opposite ? 126 : 24} y="92" style={small}>
      first
    </text>
  </>
);
const stemTab = (toLarge: boolean) => (
  <>
    <circle cx="75" cy="52" r="42" style={part} />
    <path d="M75 52m-26 0a26 26 0 1 0 52 0a26 26 0 1 0 -52 0" style={film} />
    <path d="M94 34L117 34V70H94Z" style={cut} />
    <path d="M56 46L33 46V58H56Z" style={cut} />
    {turned(toLarge ? 0 : -90, <path d="M66 44H92V60H66Z" style={soft} />)}
  </>
);
const collar = (middle: boolean) => (
  <>
    <path d="M6 60H44V86H6ZM106 60H144V86H106Z" style={cut} />
    <g transform={middle ? undefined : 'translate(14 -6) rotate(6 75 52)'}>
      <path d="M36 40H114V54H102V78H92V54H58V78H48V54H36Z" style={part} />
      <circle cx="40" cy="57" r="4" style={soft} />
      <circle cx="110" cy="57" r="4" style={soft} />
    </g>
  </>
);
const heads = (toCasing: boolean) => {
  const bolt = (
    <>
      <path d="M42 36H134V48H42Z" style={film} />
      <path d="M24 28H42V56H24Z" style={part} />
      <path d="M108 24H113V60H108ZM113 28H128V56H113Z" style={part} />
    </>
  );
  return (
    <>
      <path d="M42 6H74V78H42Z" style={cut} />
      <path d="M76 6H108V78H76Z" style={cutB} />
      {toCasing ? bolt : mirrored(bolt)}
      <text x="40" y="96" style={small}>
        casing
      </text>
      <text x="110" y="96" style={small}>
        impeller
      </text>
    </>
  );
};
const numbers = (up: boolean) => (
  <>
    <ellipse cx="75" cy="74" rx="66" ry="20" style={cut} />
    <ellipse cx="75" cy="58" rx="66" ry="20" style={part} />
    {up && (
      <text x="75" y="63" style={{ ...small, fontSize: 16 }}>
        17
      </text>
    )}
    {!up && (
      <text x="75" y="91" transform="rotate(180 75 86)" style={{ ...small, fontSize: 16 }}>
        17
      </text>
    )}
    <path d="M75 30V8M68 16L75 6L82 16" style={ink} />
  </>
);
const lettered = (toHose: boolean) => (
  <>
    <path d="M2 36H70V68H2Z" style={cut} />
    <path d="M112 30H148V74H112Z" style={part} />
    <path d="M104 24H114V80H104Z" style={part} />
    <path d="M44 24H100V80H44Z" style={film} />
    <text x="0" y="5" transform={`translate(72 52) rotate(${toHose ? -90 : 90})`} style={{ ...small, fontSize: 16 }}>
      ABC
    </text>
    <text x="22" y="96" style={small}>
      hose
    </text>
    <text x="116" y="96" style={small}>
      collar
    </text>
  </>
);
const halfTurn = (on: boolean) => (
  <>
    <circle cx="40" cy="46" r="34" style={part} />
    <circle cx="112" cy="46" r="34" style={part} />
    <circle cx="40" cy="22" r="6" style={soft} />
    <circle cx="112" cy={on ? 70 : 22} r="6" style={soft} />
    <text x="40" y="98" style={small}>
      first
    </text>
    <text x="112" y="98" style={small}>
      second
    </text>
  </>
);
const squareSide = (same: boolean) => (
  <>
    <path d="M14 30H136V66H14Z" style={part} />
    <path d="M92 66H116V92H92Z" style={cut} />
    <path d={same ? 'M30 66V96H10' : 'M30 30V6H10'} style={{ ...ink, strokeWidth: 8 }} />
    <path d="M98 30V22H110V30" style={ink} />
  </>
);
const armSide = (holds: boolean) => (
  <>
    <path d={hex(60, 60, 26)} style={part} />
    <path d="M34 30A38 38 0 0 1 86 32" style={{ ...ink, strokeWidth: 2.4 }} />
    {tip(89, 36, 50)}
    <path d="M60 60H128" style={{ ...ink, strokeWidth: 9 }} />
    <path d={holds ? 'M112 30H146V54H112Z' : 'M112 68H146V92H112Z'} style={cut} />
  </>
);
const hoseHome = (home: boolean) => (
  <>
    <path d="M84 18H98V86H84Z" style={part} />
    <path d="M30 40H146V64H30Z" style={film} />
    <path d={home ? 'M4 26H84V40H4ZM4 64H84V78H4Z' : 'M4 26H66V40H4ZM4 64H66V78H4Z'} style={cut} />
  </>
);
const band = (shank: boolean) => (
  <>
    <path d="M94 18H128V86H94Z" style={part} />
    <path d="M30 40H146V64H30Z" style={film} />
    <path d={shank ? 'M4 26H80V40H4ZM4 64H80V78H4Z' : 'M4 26H94V40H4ZM4 64H94V78H4Z'} style={cut} />
  </>
);
const tubeLine = (at: number, tubeTo: number) => (
  <>
    <path d={`M4 40H${tubeTo}V64H4Z`} style={film} />
    <path d={`M${at} 36V68`} style={line} />
    <path d="M70 18H144V86H70Z" style={cut} />
    <path d="M46 24H74V80H46Z" style={part} />
    <path d={`M48 40H${tubeTo}V64H48M${Math.max(at, 48)} 40V64`} style={{ ...ink, strokeDasharray: '4 3' }} />
    <path d="M118 36V68" style={{ ...ink, strokeWidth: 3 }} />
  </>
);
const bead = (past: boolean) => (
  <>
    <path d="M66 8H146V28H82V76H146V96H66Z" style={cut} />
    <path d={past ? 'M4 40H128V64H4Z' : 'M4 40H92V64H4Z'} style={film} />
    <path d={past ? 'M94 34H102V70H94Z' : 'M54 34H62V70H54Z'} style={part} />
    <path d="M66 28H78V40H66ZM66 64H78V76H66Z" style={soft} />
  </>
);
const keySlit = (away: boolean) => (
  <>
    <circle cx="75" cy="54" r="44" style={part} />
    <circle cx="75" cy="54" r="22" style={film} />
    <path d="M67 26H83V40H67Z" style={cut} />
    <path d={away ? 'M75 76V98' : 'M75 10V26'} style={{ ...line, stroke: 'var(--paper)', strokeWidth: 7 }} />
    <path d={away ? 'M72 76V98M78 76V98' : 'M72 10V26M78 10V26'} style={ink} />
  </>
);
const keyHome = (home: boolean) => (
  <>
    <path d="M8 50H142V90H8Z" style={cut} />
    <path d="M46 62H104V50H46Z" style={film} />
    <path d={home ? 'M46 46H104V62H46Z' : 'M46 38L104 26V42L46 54Z'} style={part} />
    <path d="M112 20H124V90H112Z" style={film} />
    <path d="M124 14H146V90H124Z" style={part} />
  </>
);
const socket = (home: boolean) => (
  <>
    <path d="M6 78H144V98H6Z" style={cut} />
    <path d="M46 48H104V78H46Z" style={part} />
    <g transform={home ? undefined : 'translate(6 -10) rotate(9 75 52)'}>
      <path d="M36 24H114V74H104V46H46V74H36Z" style={film} />
      <path d="M64 4H86V24H64Z" style={part} />
    </g>
  </>
);
const sixLine = (one: boolean) => (
  <>
    <path d={hex(75, 50, 44)} style={part} />
    <circle cx="75" cy="50" r="20" style={film} />
    <path d="M75 70V88" style={line} />
    {turned(0, <path d={one ? 'M75 52V70' : 'M75 50L90 36'} style={line} />)}
    <text x="94" y="102" style={small}>
      6
    </text>
  </>
);
const secondLine = (fresh: boolean) => (
  <>
    <path d="M84 22H146V82H84Z" style={cut} />
    <path d="M44 26H84V78H44Z" style={part} />
    <path d="M4 42H44V62H4Z" style={film} />
    <path d={fresh ? 'M20 60H44' : 'M4 0'} style={{ ...ink, strokeWidth: 3, strokeDasharray: '4 3' }} />
    <path d={fresh ? 'M50 70H110' : 'M20 56H64'} style={line} />
  </>
);
const arrow = (withFlow: boolean) => (
  <>
    <path d="M4 36H146M4 78H146" style={{ ...ink, strokeWidth: 2.4 }} />
    <path d="M10 20H60" style={{ ...ink, strokeWidth: 2.4 }} />
    {tip(70, 20, 0)}
    <text x="96" y="24" style={small}>
      flow
    </text>
    <path d="M46 42H104V72H46Z" style={part} />
    {turned(withFlow ? 0 : 180, <path d="M56 52H82V44L98 57L82 70V62H56Z" transform="translate(-2 -5)" style={soft} />)}
  </>
);
const step = (toDrive: boolean) => {
  const ring = <path d="M42 10H92V34H70V70H92V94H42V78H60V26H42Z" style={cut} />;
  return (
    <>
      <path d="M4 52H146" style={{ ...ink, strokeDasharray: '12 4 3 4' }} />
      {toDrive ? ring : mirrored(ring)}
      <path d="M72 36H116V68H72Z" style={part} />
      <text x="128" y="24" style={small}>
        drive
      </text>
    </>
  );
};
const wheelNut = (taperIn: boolean) => (
  <>
    <path d="M90 4H130V30L104 42H90ZM90 100H130V74L104 62H90Z" style={cut} />
    <path d="M20 46H140V58H20Z" style={film} />
    {((nut: ReactNode) => (taperIn ? nut : <g transform="translate(132 0) scale(-1 1)">{nut}</g>))(
      <path d="M36 22H74L100 42V62L74 82H36Z" transform={taperIn ? 'translate(2 0)' : undefined} style={part} />,
    )}
  </>
);
const pushHoles = (bushThread: boolean) => (
  <>
    <path d="M10 10H140V48H10Z" style={cut} />
    <path d="M10 50H140V94H10Z" style={cutB} />
    <path d="M64 22H86V82H64Z" style={film} />
    <path
      d={bushThread ? 'M64 54l-5 3l5 3l-5 3l5 3l-5 3l5 3l-5 3l5 3' : 'M86 24l5 3l-5 3l5 3l-5 3l5 3l-5 3l5 3'}
      style={{ ...ink, strokeWidth: 2.6 }}
    />
    <path
      d={bushThread ? 'M86 54l5 3l-5 3l5 3l-5 3l5 3l-5 3l5 3l-5 3' : 'M64 24l-5 3l5 3l-5 3l5 3l-5 3l5 3l-5 3'}
      style={{ ...ink, strokeWidth: 2.6 }}
    />
    <text x="34" y="34" style={small}>
      hub
    </text>
    <text x="34" y="78" style={small}>
      bush
    </text>
  </>
);
const backing = (inside: boolean) => (
  <>
    <path d="M70 4H80V100H70Z" style={part} />
    <path d={inside ? 'M80 30H92V74H80Z' : 'M58 30H70V74H58Z'} style={cut} />
    <path d="M40 46H116V58H40Z" style={film} />
    <path d={inside ? 'M54 40H70V64H54ZM92 40H108V64H92Z' : 'M42 40H58V64H42ZM80 40H96V64H80Z'} style={part} />
    <text x="122" y="20" style={small}>
      inside
    </text>
  </>
);
const ferrules = (right: boolean) => (
  <>
    <path d="M4 60H146M4 84H146" style={{ ...ink, strokeWidth: 2 }} />
    <path d="M108 30H146V60H132Z" style={cut} />
    <path d="M10 20H36V58H10Z" style={part} />
    {right ? (
      <path d="M74 36L104 58H74ZM44 28L66 58H44Z" style={film} />
    ) : (
      <path d="M104 36L74 58H104ZM66 28L44 58H66Z" style={film} />
    )}
    <text x="23" y="14" style={small}>
      nut
    </text>
    <text x="128" y="24" style={small}>
      cone
    </text>
  </>
);

export const facing: Record<string, ReactNode> = {
  folded: pair(bladder),
  cone: pair(springWashers),
  flat_down: pair(nutSide),
  holes_meet: pair(holesMeet),
  stop_pin: pair(stopPin),
  stem_tab: pair(stemTab),
  collar_middle: pair(collar),
  heads_casing: pair(heads),
  heads_impeller: pair((way) => heads(!way)),
  numbers_up: pair(numbers),
  lettering_collar: pair((way) => lettered(!way)),
  lettering_hose: pair(lettered),
  half_turn: pair(halfTurn),
  square_side: pair(squareSide),
  arm_side: pair(armSide),
  hose_home: pair(hoseHome),
  shank_band: pair(band),
  line_hidden: <Two right={tubeLine(60, 118)} wrong={tubeLine(26, 92)} />,
  line_outside: <Two right={tubeLine(38, 118)} wrong={tubeLine(14, 104)} />,
  bead_past: pair(bead),
  key_slit: pair(keySlit),
  key_home: pair(keyHome),
  socket_on: pair(socket),
  six_line: pair(sixLine),
  second_line: pair(secondLine),
  arrow: pair(arrow),
  step_in: pair(step),
  taper_in: pair(wheelNut),
  push_off: pair(pushHoles),
  backing: pair(backing),
  ferrules: pair(ferrules),
};
