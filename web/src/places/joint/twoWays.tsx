import type { ReactNode } from 'react';
import { big, cut, cutB, hex, ink, line, pair, part, small, soft, Two } from './two';

/** Drawings of what goes in, out and over, the right way beside the wrong way. */

const shell = <path d="M10 6H44V38H58V66H44V98H10Z" style={cut} />;
const seals = (firstSoft: boolean, chamferIn: boolean) => (
  <>
    {shell}
    <rect x="60" y="26" width="11" height="52" rx={firstSoft ? 5 : 0} style={firstSoft ? soft : part} />
    <rect x="73" y="26" width="11" height="52" rx={firstSoft ? 0 : 5} style={firstSoft ? part : soft} />
    <path d={chamferIn ? 'M88 34L98 20H132V84H98L88 70Z' : 'M88 20H122L132 34V70L122 84H88Z'} style={part} />
  </>
);
const stud = (short: number) => (
  <>
    <path d="M10 6H64V98H10Z" style={cut} />
    <rect x={64 - short} y="42" width="120" height="20" style={{ ...part, fill: 'var(--film)' }} clipPath="inset(0)" />
    {Array.from({ length: Math.floor(short / 6) }, (_, i) => 64 - short + 6 * i).map((x) => (
      <path key={x} d={`M${x} 42l4 20`} style={ink} />
    ))}
    {Array.from({ length: Math.floor((70 - short) / 6) }, (_, i) => 176 - short - 6 * i).map((x) => (
      <path key={x} d={`M${Math.min(x, 142)} 42l4 20`} style={ink} />
    ))}
  </>
);
const washer = (up: boolean) => (
  <>
    <path d="M10 66H140V98H10Z" style={cut} />
    <path d="M58 66V8H92V66" style={part} />
    <path
      d={up ? 'M26 66V56L36 46H58V66ZM124 66V56L114 46H92V66Z' : 'M36 66L26 56V46H58V66ZM114 66L124 56V46H92V66Z'}
      style={cutB}
    />
    <path d="M30 20H58V46H30ZM92 20H120V46H92Z" style={part} />
  </>
);
const witness = (turned: number) => (
  <>
    <path d={hex(75, 52, 38, turned)} style={part} />
    <circle cx="75" cy="52" r="18" style={{ ...part, fill: 'var(--film)' }} />
    <path d="M75 52L92 52" style={line} />
    <path d="M114 52H146" style={line} />
    <path d="M94 52H112" transform={`rotate(${turned} 75 52)`} style={line} />
  </>
);
const clampHalves = (creaseDeg: number) => (
  <>
    <path d="M31 48A44 44 0 0 1 119 48L107 48A32 32 0 0 0 43 48Z" style={cut} />
    <path d="M31 56A44 44 0 0 0 119 56L107 56A32 32 0 0 1 43 56Z" style={cutB} />
    <circle cx="75" cy="52" r="30" style={ink} />
    <path d="M66 22C70 36 80 36 84 22" transform={`rotate(${creaseDeg} 75 52)`} style={line} />
  </>
);
const recess = (swapped: boolean) => (
  <>
    <path d="M20 36H130V68H20Z" style={cut} />
    <path d="M20 44H34V60H20ZM116 40H130V64H116Z" style={{ ...part, fill: 'var(--film)' }} />
    <path d="M10 47H140V57H10Z" style={part} />
    <path d={swapped ? 'M114 44H130V60H114Z' : 'M20 44H36V60H20Z'} style={soft} />
    <path d={swapped ? 'M8 40H14V64H8ZM2 43H8V61H2Z' : 'M116 40H122V64H116ZM122 43H136V61H122Z'} style={part} />
    <text x="28" y="90" style={small}>
      hexagon
    </text>
    <text x="122" y="90" style={small}>
      round
    </text>
  </>
);
const heel = (turned: boolean) => (
  <>
    <path d="M10 10H140V40H120V54H84V40H10Z" style={cut} />
    <g transform={turned ? 'translate(204 0) scale(-1 1)' : undefined}>
      <path d="M86 42H118V52H104C98 84 66 92 60 74C58 60 76 56 86 52Z" style={soft} />
    </g>
    <path d="M10 98H140" style={ink} />
    <text x="34" y="72" style={small}>
      inward
    </text>
  </>
);
const spread = (inBlind: boolean) => (
  <>
    <path d="M20 30H60V80H20ZM96 30H136V80H96Z" style={cut} />
    <path d="M96 48H118V62H96Z" style={{ ...part, fill: 'var(--film)' }} />
    <path d={inBlind ? 'M8 49H116V61H8Z' : 'M8 71H144V83H8Z'} style={part} />
    <path
      d="M12 49l4 12m4 -12l4 12m4 -12l4 12m4 -12l4 12"
      transform={inBlind ? undefined : 'translate(0 22)'}
      style={ink}
    />
    <path d="M70 20H84M70 20l5 -5m-5 5l5 5M84 20l-5 -5m5 5l-5 5" style={inBlind ? ink : { display: 'none' }} />
  </>
);
const sleeve = (at: number) => (
  <>
    <path d="M6 80A100 100 0 0 1 144 80V98H6Z" style={cut} />
    <path d="M50 46H100V70H50Z" style={cutB} />
    <path d={`M62 ${at - 30}H88V94H62Z`} style={{ ...part, fill: 'var(--film)' }} />
    <path d={`M58 ${at}H92`} style={line} />
    <path d="M104 46H140" style={{ ...ink, strokeDasharray: '4 3' }} />
  </>
);
const eye = (dir: number) => (
  <g transform={dir < 0 ? 'translate(150 0) scale(-1 1)' : undefined}>
    <rect x="24" y="20" width="16" height="80" style={part} />
    <path d="M40 34H62" style={line} />
    <circle cx="72" cy="34" r="11" style={{ ...ink, strokeWidth: 5 }} />
    <path d="M84 34H130M120 26L132 34L120 42" style={ink} />
  </g>
);
const layers = (above: boolean) => (
  <>
    {[20, 52].map((y, i) => (
      <g key={y} transform={`translate(0 ${y})`}>
        <rect x="10" y="4" width="110" height="18" style={part} />
        <rect x="112" y={above === (i === 0) ? -4 : 2} width="24" height="30" style={cut} />
      </g>
    ))}
    <path d="M4 96H146" style={ink} />
  </>
);
const paste = (onBush: boolean) => (
  <>
    <path d="M10 70H140V96H10Z" style={part} />
    <path d="M30 48H60V70H30Z" style={cut} />
    <path d="M68 22H88V70H68ZM94 22H114V70H94Z" style={cutB} />
    <path d={onBush ? 'M28 45H62V49H28Z' : 'M66 68H116V72H66Z'} style={{ fill: 'var(--ink)' }} />
    <path d={onBush ? 'M45 40V14M39 22L45 12L51 22' : 'M91 64V14'} style={ink} />
    <text x={onBush ? 45 : 91} y="10" style={small}>
      paste
    </text>
  </>
);
const shoulder = (gap: number) => (
  <>
    <path d="M10 58H54V38H140V96H10Z" style={part} />
    <path d={`M${30 - gap} 14H${54 - gap}V56H${30 - gap}Z`} style={cutB} transform="translate(0 -2)" />
    <path d="M54 14V38" style={{ ...ink, strokeDasharray: '4 3' }} />
  </>
);
const plug = (through: boolean) => (
  <>
    <path d="M10 10H60V94H10Z" style={cut} />
    <path d="M10 42H60V62H10Z" style={{ ...part, fill: 'var(--film)' }} />
    <circle cx="100" cy="52" r="36" style={part} />
    <path
      d="M66 42H134V62H66Z"
      transform={through ? undefined : 'rotate(28 100 52)'}
      style={{ ...ink, fill: 'var(--film)' }}
    />
    <path d={through ? 'M2 45H112V59H2Z' : 'M2 45H62V59H2Z'} style={soft} />
  </>
);
const jig = (inner: boolean) => (
  <>
    <path d="M20 60H50V90H20ZM100 60H130V90H100Z" style={cut} />
    <circle cx="57" cy="75" r="7" style={part} />
    <circle cx="93" cy="75" r="7" style={part} />
    <path d="M64 60H86V90H64Z" style={cutB} />
    <path d={inner ? 'M64 8H86V58H64Z' : 'M20 8H130V22H130V58H112V22H38V58H20Z'} style={part} />
    <path d={inner ? 'M75 14V48M69 40L75 50L81 40' : 'M29 26V50M23 42L29 52L35 42'} style={ink} />
  </>
);
const props = (standing: boolean) => (
  <>
    <path d="M4 96H146" style={ink} />
    <path d="M16 30H134V42H16Z" style={part} transform={standing ? undefined : 'rotate(9 16 36)'} />
    {standing && <path d="M36 42V96M114 42V96M28 96H44M106 96H122" style={line} />}
  </>
);
const marks = (a: string, b: string) => (
  <>
    <rect x="14" y="26" width="54" height="52" style={part} />
    <rect x="82" y="26" width="54" height="52" style={part} />
    <text x="41" y="62" style={big}>
      {a}
    </text>
    <text x="109" y="62" style={big}>
      {b}
    </text>
  </>
);
const piston = (word: string) => (
  <>
    <path d="M10 18H140V34H10ZM10 70H140V86H10Z" style={cut} />
    <rect x="48" y="36" width="52" height="32" style={part} />
    <path d="M100 46H140V58H100Z" style={part} />
    <text x="74" y="56" style={small}>
      {word}
    </text>
    <text x="76" y="14" style={small}>
      open side
    </text>
  </>
);
const port = (upright: boolean) => (
  <g transform={upright ? undefined : 'rotate(90 75 52)'}>
    <rect x="40" y="30" width="70" height="56" style={part} />
    <circle cx="75" cy="20" r="9" style={{ ...ink, strokeWidth: 4 }} />
    <circle cx="75" cy="44" r="7" style={soft} />
    <path d="M40 36V80M110 36V80" style={line} />
  </g>
);
const guide = (on: boolean) => (
  <>
    <path d="M60 8H80V44H60ZM60 62H80V98H60Z" style={cut} />
    <path d={on ? 'M84 46H120V60H84Z' : 'M96 66H132V80H96Z'} style={part} />
    {on && <path d="M14 50H84V56H14Z" style={soft} />}
    <path d="M120 30C150 40 150 66 120 76" style={ink} />
  </>
);

/** What was put in for the work is out again. */
const plugOut = (out: boolean) => (
  <>
    <path d="M10 10H60V94H10Z" style={cut} />
    <path d="M10 42H60V62H10Z" style={{ ...part, fill: 'var(--film)' }} />
    <circle cx="100" cy="52" r="36" style={part} />
    <path d="M66 42H134V62H66Z" style={{ ...ink, fill: 'var(--film)' }} />
    {!out && <path d="M2 45H112V59H2Z" style={soft} />}
  </>
);
const jigOut = (out: boolean) => (
  <>
    <path d="M20 60H50V90H20ZM100 60H130V90H100Z" style={cut} />
    <circle cx="57" cy="75" r="7" style={part} />
    <circle cx="93" cy="75" r="7" style={part} />
    <path d="M64 60H86V90H64Z" style={cutB} />
    {!out && <path d="M64 8H86V58H64Z" style={part} />}
  </>
);
const propsOut = (out: boolean) => (
  <>
    <path d="M4 96H146" style={ink} />
    <path d="M4 16H16V56H4ZM134 16H146V56H134Z" style={cut} />
    <path d="M16 30H134V42H16Z" style={part} />
    {!out && <path d="M36 42V96M114 42V96M28 96H44M106 96H122" style={line} />}
  </>
);
const guideOff = (off: boolean) => (
  <>
    <path d="M60 8H80V44H60ZM60 62H80V98H60Z" style={cut} />
    <path d="M48 46H120V60H48Z" style={part} />
    {!off && <path d="M8 50H48V56H8Z" style={soft} />}
    <path d="M120 30C150 40 150 66 120 76" style={ink} />
  </>
);

const stub = (on: boolean) => (
  <>
    <path d="M4 74H34V98H4ZM4 6H34V30H4Z" style={cut} />
    <path d="M10 40H96V64H10Z" style={part} />
    <path d={on ? 'M60 30H142V40H96V64H142V74H60V64H96V40H60Z' : 'M104 16H144V26H128V50H144V60H104Z'} style={cutB} />
  </>
);
const stubOut = (out: boolean) => (
  <>
    <path d="M20 30H140V42H20ZM20 62H140V74H20Z" style={cutB} />
    {!out && <path d="M4 43H90V61H4Z" style={part} />}
    {out && <path d="M16 52H124M116 46l10 6l-10 6" style={ink} />}
  </>
);
const shield = (down: boolean) => (
  <g transform={down ? undefined : 'rotate(180 75 52)'}>
    <path d="M22 70H128V86H96V96H54V86H22Z" style={cut} />
    <path d="M60 70V40H90V70" style={part} />
    <path d="M40 70V58H54V70M96 70V58H110V70" style={ink} />
  </g>
);
const shieldBack = (back: boolean) => (
  <g transform={back ? undefined : 'rotate(180 75 52)'}>
    <path d="M22 18H128V84H22Z" style={part} />
    <path d="M54 8H96V18H54Z" style={cut} />
    <path d="M66 8V2H84V8M40 84V92H110V84" style={ink} />
    <path d="M30 34H120" style={ink} />
  </g>
);
const rig = (off: boolean) => (
  <>
    <path d="M4 60H146V92H4Z" style={part} />
    <path d="M62 60A13 13 0 0 0 88 60Z" style={soft} />
    {!off && <path d="M56 60V18H94V60M66 18V4H84V18M40 60C40 40 110 40 110 60" style={ink} />}
    {off && <circle cx="122" cy="36" r="12" style={cut} />}
  </>
);
const saddleStack = (sleeveIn: boolean, up: boolean) => (
  <>
    <path d="M4 78H146V96H4Z" style={cut} />
    <path d="M34 22V78M116 22V78" style={line} />
    {sleeveIn && (
      <g transform={up ? 'translate(0 -24)' : undefined}>
        <path d="M24 52H126V60H24Z" style={part} />
        <path d="M60 60H90V98H60Z" style={part} />
        <path d="M60 78H90" style={ink} />
      </g>
    )}
  </>
);
const ringOpen = (bolt: boolean, second: boolean) => (
  <>
    <path d="M20 84A56 56 0 1 1 130 84" style={{ ...ink, strokeWidth: 12, stroke: 'var(--ink-3)' }} />
    <circle cx="40" cy="34" r="5" style={ink} />
    <circle cx="110" cy="34" r="5" style={ink} />
    <circle cx="22" cy="62" r="5" style={ink} />
    <circle cx="128" cy="62" r="5" style={ink} />
    {bolt && <path d={second ? 'M12 62H138' : 'M30 34H120'} style={line} />}
  </>
);

export const twoWays: Record<string, ReactNode> = {
  seal_stack: <Two right={seals(true, true)} wrong={seals(false, false)} />,
  stud_ends: <Two right={stud(24)} wrong={stud(48)} />,
  washer_chamfer: pair(washer),
  witness_line: <Two right={witness(0)} wrong={witness(24)} />,
  clamp_crease: <Two right={clampHalves(0)} wrong={clampHalves(90)} />,
  recess: pair((way) => recess(!way)),
  gasket_heel: pair((way) => heel(!way)),
  spread_bolt: pair(spread),
  sleeve_mark: <Two right={sleeve(46)} wrong={sleeve(24)} />,
  eyes_inward: <Two right={eye(1)} wrong={eye(-1)} />,
  ends_above: pair(layers),
  paste_bush: pair(paste),
  on_shoulder: <Two right={shoulder(0)} wrong={shoulder(14)} />,
  plug_through: pair(plug),
  jig_inner: pair(jig),
  props: pair(props),
  same_mark: <Two right={marks('K4', 'K4')} wrong={marks('K4', 'K7')} />,
  piston_side: <Two right={piston('open')} wrong={piston('close')} />,
  port_at_eye: pair(port),
  guide_rod: pair(guide),
  plug_out: pair(plugOut),
  jig_out: pair(jigOut),
  props_out: pair(propsOut),
  guide_off: pair(guideOff),
  stub_in: pair(stub),
  stub_out: pair(stubOut),
  shield_over: pair(shield),
  shield_back: pair(shieldBack),
  rig_off: pair(rig),
  sleeve_out: <Two right={saddleStack(true, true)} wrong={saddleStack(true, false)} />,
  sleeve_in: <Two right={saddleStack(true, false)} wrong={saddleStack(false, false)} />,
  bolt_in: <Two right={ringOpen(true, false)} wrong={ringOpen(true, true)} />,
  bolt_out: <Two right={ringOpen(false, false)} wrong={ringOpen(true, false)} />,
};
