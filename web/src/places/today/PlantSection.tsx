const A = { fill: 'none', stroke: 'var(--ink)', strokeWidth: 1.3 };
const B = { fill: 'none', stroke: 'var(--ink-3)', strokeWidth: 1 };
const S = { fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.3 };

const waves = (x0: number, x1: number) => {
  let d = `M${x0} 34`;
  for (let x = x0; x < x1; x += 16) d += 'q4 -4 8 0t8 0';
  return d;
};

/** The station in section, from the sea to the land. The pointer stands over the area of the joint in hand. */
export function PlantSection({
  tag,
  area,
  areas,
}: {
  tag: string | undefined;
  area: string | undefined;
  areas: string[];
}) {
  const i = area ? areas.indexOf(area) : -1;
  const x = i >= 0 ? (1280 / Math.max(1, areas.length)) * (i + 0.42) : undefined;
  return (
    <svg
      className="plant"
      viewBox="0 0 1280 108"
      preserveAspectRatio="none"
      width="100%"
      height="104"
      role="img"
      aria-label="Section through the station from the sea to the land"
    >
      <rect x="0" y="34" width="450" height="58" style={{ fill: 'var(--film-3)' }} />
      <path d={waves(0, 96)} style={A} />
      <path d={waves(206, 296)} style={B} />
      <path d={waves(332, 444)} style={B} />
      <path d="M0 92H1280" style={{ stroke: 'var(--ink)', strokeWidth: 1.5 }} />
      <rect x="0" y="92" width="1280" height="12" style={{ fill: 'url(#hCut)' }} />
      {[0, 1, 2, 3, 4, 5, 6].map((n) => (
        <path key={n} d={`M${104 + n * 8} 12L${96 + n * 8} 92`} style={n % 2 ? B : A} />
      ))}
      <path d="M98 12H158V4H98Z" style={S} />
      <path d="M158 8H190V30" style={A} />
      <path d="M182 92V20H206V92" style={S} />
      <path
        d="M262 62C262 50 286 46 306 46H366C392 46 404 54 420 60V64C404 70 392 78 366 78H306C286 78 262 74 262 62Z"
        style={S}
      />
      <path d="M372 46C378 30 386 30 382 48M372 78C378 94 386 92 382 76" style={S} />
      <path d="M318 46V78M330 46V78" style={B} />
      <path d="M300 46V6H330V46" style={S} />
      <path d="M404 62H690" style={{ stroke: 'var(--ink)', strokeWidth: 1, strokeDasharray: '16 4 3 4' }} />
      <path d="M420 57H500V67H420" style={S} />
      <path d="M448 92V22H456V92" style={{ fill: 'url(#hCut)', stroke: 'var(--ink)' }} />
      <path d="M500 50H508V74H500ZM509 50H517V74H509Z" style={S} />
      <path d="M524 92V40H538L546 30H580L588 40H602V92Z" style={S} />
      <circle cx="552" cy="64" r="15" style={B} />
      <circle cx="576" cy="62" r="9" style={B} />
      <path d="M602 58H624V66H602" style={A} />
      <path d="M630 92V40H702V92Z" style={S} />
      <path d="M640 46V86M650 46V86M660 46V86M670 46V86M680 46V86M690 46V86" style={B} />
      <path d="M738 92V26L880 8L1022 26V92" style={A} />
      <path d="M772 52H860V78H772ZM778 52V44H786V52M846 52V44H854V52" style={S} />
      <path d="M780 58H852M780 65H852M780 72H852" style={B} />
      <path d="M860 60H900V40H960" style={A} />
      <path d="M860 68H908V48H960" style={A} />
      <circle cx="978" cy="70" r="15" style={S} />
      <path d="M960 40H978V55M993 76H1012V92" style={A} />
      <path d="M1084 92V0M1112 92V0M1208 92V0M1236 92V0" style={A} />
      {[0, 1, 2, 3, 4].map((n) => (
        <path
          key={n}
          d={`M1084 ${n * 18 + 2}L1112 ${n * 18 + 20}M1112 ${n * 18 + 2}L1084 ${n * 18 + 20}M1208 ${n * 18 + 2}L1236 ${n * 18 + 20}M1236 ${n * 18 + 2}L1208 ${n * 18 + 20}`}
          style={B}
        />
      ))}
      <path d="M1116 30H1204V84H1116ZM1116 48H1204M1116 66H1204" style={S} />
      <path d="M1084 4H1236" style={{ stroke: 'var(--ink)', strokeWidth: 3 }} />
      {x !== undefined && tag && (
        <g>
          <path d={`M${x} 92V98`} style={{ stroke: 'var(--now)', strokeWidth: 2 }} />
          <path d={`M${x - 8} 84h16l-8 14Z`} style={{ fill: 'var(--now)' }} />
        </g>
      )}
    </svg>
  );
}
