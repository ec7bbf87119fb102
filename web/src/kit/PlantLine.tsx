import type { ReactNode } from 'react';

const A = { fill: 'none', stroke: 'var(--ink)', strokeWidth: 1.3 };
const B = { fill: 'none', stroke: 'var(--ink-3)', strokeWidth: 1 };
const S = { fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.3 };

/** What an area can be drawn as, each 120 wide and 92 high, standing on the ground. */
export const drawings: Record<string, { word: string; draw: ReactNode }> = {
  intake: {
    word: 'intake screens',
    draw: (
      <>
        <rect x="0" y="34" width="120" height="58" style={{ fill: 'var(--film-3)' }} />
        <path d="M0 34q4 -4 8 0t8 0M88 34q4 -4 8 0t8 0q4 -4 8 0t8 0" style={A} />
        {[0, 1, 2, 3, 4, 5].map((n) => (
          <path key={n} d={`M${36 + n * 9} 14L${27 + n * 9} 92`} style={n % 2 ? B : A} />
        ))}
        <path d="M28 14H92V6H28Z" style={S} />
      </>
    ),
  },
  rotor: {
    word: 'rotor or turbine',
    draw: (
      <>
        <path d="M4 60C4 48 24 44 44 44H80C100 44 108 52 118 58V62C108 68 100 76 80 76H44C24 76 4 72 4 60Z" style={S} />
        <path d="M88 44C94 28 102 28 98 46M88 76C94 92 102 90 98 74" style={S} />
        <path d="M52 44V76M62 44V76" style={B} />
        <path d="M38 44V12H60V44M40 76V92M70 76V92" style={A} />
      </>
    ),
  },
  gearbox: {
    word: 'gearbox',
    draw: (
      <>
        <path d="M24 92V42H38L46 32H80L88 42H100V92Z" style={S} />
        <circle cx="52" cy="66" r="16" style={B} />
        <circle cx="80" cy="64" r="10" style={B} />
        <path d="M4 62H24M100 60H118M4 68H24M100 66H118" style={A} />
      </>
    ),
  },
  pumps: {
    word: 'pumps and exchangers',
    draw: (
      <>
        <path d="M4 52H76V80H4ZM10 52V44H18V52M62 52V44H70V52" style={S} />
        <path d="M12 60H68M12 66H68M12 72H68" style={B} />
        <circle cx="96" cy="72" r="14" style={S} />
        <path d="M96 58V40H118M110 76H118V92M4 80V92M76 80V92" style={A} />
      </>
    ),
  },
  tower: {
    word: 'tower',
    draw: (
      <>
        <path d="M44 92V8C44 2 76 2 76 8V92Z" style={S} />
        <path d="M44 28H76M44 50H76M44 72H76" style={B} />
        <path d="M76 20H100V92M44 60H20V92" style={A} />
      </>
    ),
  },
  tank: {
    word: 'tank',
    draw: (
      <>
        <path d="M18 92V34C18 24 102 24 102 34V92Z" style={S} />
        <path d="M18 34C18 44 102 44 102 34M18 62H102" style={B} />
        <path d="M106 92V26H98M102 78H118" style={A} />
      </>
    ),
  },
  boiler: {
    word: 'boiler',
    draw: (
      <>
        <path d="M22 92V24H82V92Z" style={S} />
        <path d="M30 30V84M38 30V84M46 30V84M54 30V84M62 30V84M70 30V84" style={B} />
        <path d="M40 24V10H64V24M92 92V2H104V92" style={A} />
        <path d="M82 50H92" style={A} />
      </>
    ),
  },
  conveyor: {
    word: 'conveyor',
    draw: (
      <>
        <path d="M6 80L100 36L106 46L12 90Z" style={S} />
        <circle cx="14" cy="84" r="7" style={S} />
        <circle cx="100" cy="42" r="7" style={S} />
        <path d="M34 76V92M72 58V92M104 48L114 62V92" style={A} />
      </>
    ),
  },
  press: {
    word: 'press or mill',
    draw: (
      <>
        <path d="M22 92V12H98V92H84V30H36V92Z" style={S} />
        <path d="M52 30V52H68V30M42 52H78V62H42Z" style={A} />
        <path d="M36 80H84M36 86H84" style={B} />
      </>
    ),
  },
  bridge: {
    word: 'pipe bridge',
    draw: (
      <>
        <path d="M14 92V30M34 92V30M86 92V30M106 92V30M0 30H120M0 46H120" style={A} />
        <path d="M14 46L34 30M34 46L60 30M60 46L86 30M86 46L106 30" style={B} />
        <path d="M0 22H120M0 14H120" style={A} />
      </>
    ),
  },
  workshop: {
    word: 'workshop or hall',
    draw: (
      <>
        <path d="M10 92V42L60 20L110 42V92Z" style={S} />
        <path d="M22 50H98M40 92V60H80V92" style={A} />
        <path d="M60 60V92" style={B} />
      </>
    ),
  },
  gate: {
    word: 'gate',
    draw: (
      <>
        <path d="M14 92V2M34 92V2M86 92V2M106 92V2" style={A} />
        {[0, 1, 2, 3].map((n) => (
          <path
            key={n}
            d={`M14 ${n * 20 + 6}L34 ${n * 20 + 24}M34 ${n * 20 + 6}L14 ${n * 20 + 24}M86 ${n * 20 + 6}L106 ${n * 20 + 24}M106 ${n * 20 + 6}L86 ${n * 20 + 24}`}
            style={B}
          />
        ))}
        <path d="M36 32H84V84H36ZM36 50H84M36 67H84" style={S} />
        <path d="M14 4H106" style={{ stroke: 'var(--ink)', strokeWidth: 3 }} />
      </>
    ),
  },
};

/** One drawing by itself, to be chosen. */
export function Drawing({ name, width = 84 }: { name: string; width?: number }) {
  return (
    <svg
      viewBox="0 0 120 96"
      width={width}
      height={width * 0.8}
      role="img"
      aria-label={drawings[name]?.word ?? 'no drawing'}
    >
      <path d="M0 92H120" style={{ stroke: 'var(--ink)', strokeWidth: 1.5 }} />
      {drawings[name]?.draw}
    </svg>
  );
}

/** The plant as the site drew it: its areas side by side on one ground. The pointer stands over the area at hand. */
export function PlantLine({ areas, at }: { areas: { name: string; drawing: string }[]; at?: string | undefined }) {
  if (!areas.some((a) => a.drawing)) return null;
  return (
    <div className="plant-line" style={{ gridTemplateColumns: `repeat(${areas.length}, minmax(214px, 1fr))` }}>
      {areas.map((a) => (
        <svg
          key={a.name}
          viewBox="0 0 214 108"
          preserveAspectRatio="xMidYMax meet"
          height="104"
          role="img"
          aria-label={`${a.name}: ${drawings[a.drawing]?.word ?? 'not drawn'}`}
        >
          <g transform="translate(47 0)">{drawings[a.drawing]?.draw}</g>
          {a.name === at && <path d="M99 84h16l-8 14Z" style={{ fill: 'var(--now)' }} transform="translate(0 -2)" />}
        </svg>
      ))}
    </div>
  );
}
