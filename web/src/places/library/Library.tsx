import { TextInput } from '@mantine/core';
import { getRouteApi } from '@tanstack/react-router';
import { useLibrary } from '../../api/client';
import { num } from '../../kit/numbers';
import './library.css';

const route = getRouteApi('/library');
const shelves = [
  ['lubricants', 'Lubricants'],
  ['materials', 'Materials'],
  ['threads', 'Threads'],
  ['procedures', 'Procedures'],
  ['rules', 'House rules'],
] as const;

const sources: Record<string, string> = {
  maker_tested: 'tested by its maker',
  site_measured: 'measured on site',
  project_specified: 'laid down by the project',
  library: 'typical, confirm by test',
};

/** The engineering data everything is worked out with, and where each figure comes from. */
export function LibraryPlace() {
  const { shelf = 'lubricants', q = '' } = route.useSearch();
  const navigate = route.useNavigate();
  const lib = useLibrary();
  const l = lib.data;
  const has = (text: string) => text.toLowerCase().includes(q.toLowerCase());
  if (!l) return <p className="empty">{lib.isError ? (lib.error as Error).message : 'One moment.'}</p>;
  return (
    <div className="library">
      <nav aria-label="Shelves">
        {shelves.map(([code, name]) => (
          <button
            key={code}
            type="button"
            className={code === shelf ? 'on' : ''}
            aria-current={code === shelf ? 'page' : undefined}
            onClick={() => void navigate({ search: { shelf: code } })}
          >
            {name}
          </button>
        ))}
      </nav>
      <section>
        <div className="row-btns" style={{ marginTop: 0 }}>
          <h1 className="title">{shelves.find((s) => s[0] === shelf)?.[1]}</h1>
          <TextInput
            aria-label="Search this shelf"
            placeholder="search this shelf"
            value={q}
            onChange={(e) => void navigate({ search: { shelf, q: e.currentTarget.value || undefined }, replace: true })}
          />
          <button type="button" className="btn sm" onClick={() => print()}>
            Print
          </button>
        </div>
        {shelf === 'lubricants' && (
          <>
            <p className="dim">
              Order of authority: the maker's tested value, one measured on site, one laid down by the project, then the built-in typical
              value. The site's own cards stand first.
            </p>
            <table className="t">
              <thead>
                <tr>
                  <th>Card</th>
                  <th>Name</th>
                  <th className="n">K low</th>
                  <th className="n">typical</th>
                  <th className="n">high</th>
                  <th className="n grp">μ thread, same three</th>
                  <th className="n grp">μ face</th>
                  <th>Where it comes from</th>
                </tr>
              </thead>
              <tbody>
                {l.lubricants
                  .filter((x) => has(`${x.code} ${x.name} ${x.note ?? ''}`))
                  .map((x) => (
                    <tr key={x.code}>
                      <td className="m">{x.code}</td>
                      <td>
                        <b>{x.name}</b>
                        {x.notForTorqueControl && <span className="hld"> not for torque control</span>}
                        {x.note && <div className="dim">{x.note}</div>}
                      </td>
                      <td className="n">{x.k.low.toFixed(3)}</td>
                      <td className="n">{x.k.typ.toFixed(3)}</td>
                      <td className="n">{x.k.high.toFixed(3)}</td>
                      <td className="n grp">{[x.muThread.low, x.muThread.typ, x.muThread.high].map((v) => v.toFixed(2)).join(' ')}</td>
                      <td className="n grp">{[x.muHead.low, x.muHead.typ, x.muHead.high].map((v) => v.toFixed(2)).join(' ')}</td>
                      <td>{sources[x.source]}</td>
                    </tr>
                  ))}
              </tbody>
            </table>
          </>
        )}
        {shelf === 'materials' && (
          <table className="t">
            <thead>
              <tr>
                <th>Grade</th>
                <th>Threads</th>
                <th className="n">up to, mm</th>
                <th className="n">yield, MPa</th>
                <th className="n">tensile, MPa</th>
                <th className="n">proof, MPa</th>
                <th>Standard</th>
              </tr>
            </thead>
            <tbody>
              {l.materials
                .filter((m) => has(`${m.grade} ${m.source} ${m.system}`))
                .map((m) => (
                  <tr key={m.system + m.grade + m.maxMm}>
                    <td className="m">{m.grade}</td>
                    <td>{m.system === 'iso' ? 'metric' : 'inch'}</td>
                    <td className="n">{num(m.maxMm, 1)}</td>
                    <td className="n">{num(m.yieldMPa, 0)}</td>
                    <td className="n">{num(m.tensileMPa, 0)}</td>
                    <td className="n">{m.proofMPa ? num(m.proofMPa, 0) : 'not stated'}</td>
                    <td>{m.source}</td>
                  </tr>
                ))}
            </tbody>
          </table>
        )}
        {shelf === 'threads' && (
          <table className="t">
            <thead>
              <tr>
                <th>Thread</th>
                <th>Series</th>
                <th className="n">d, mm</th>
                <th className="n">pitch, mm</th>
                <th className="n">stress area, mm²</th>
                <th className="n">d2, mm</th>
                <th className="n">d3, mm</th>
                <th className="n">across flats, mm</th>
              </tr>
            </thead>
            <tbody>
              {l.threads
                .filter((t) => has(`${t.text} ${t.series}`))
                .map((t) => (
                  <tr key={t.text}>
                    <td className="m">{t.text}</td>
                    <td>{t.series}</td>
                    <td className="n">{num(t.diameterMm, 3)}</td>
                    <td className="n">{num(t.pitchMm, 3)}</td>
                    <td className="n">{num(t.stressAreaMm2, 1)}</td>
                    <td className="n">{num(t.d2Mm, 3)}</td>
                    <td className="n">{num(t.d3Mm, 3)}</td>
                    <td className="n">{t.acrossFlatsMm ? num(t.acrossFlatsMm, 1) : 'not listed'}</td>
                  </tr>
                ))}
            </tbody>
          </table>
        )}
        {shelf === 'procedures' &&
          l.families.map((f) => (
            <div key={f.code}>
              <div className="rule" style={{ margin: '10px 0' }}>
                {f.name}
                <span className="r">version {f.version}</span>
              </div>
              <p>
                <b>Snug:</b> {f.snug}
              </p>
              <table className="t">
                <thead>
                  <tr>
                    <th>Stop</th>
                    <th>Check</th>
                    <th>Asked</th>
                    <th>Why</th>
                  </tr>
                </thead>
                <tbody>
                  {f.checks
                    .filter((c) => has(`${c.title} ${c.ask} ${c.why}`))
                    .map((c) => (
                      <tr key={c.code}>
                        <td>{c.stop.replace('_', ' ')}</td>
                        <td>
                          <b>{c.title}</b>
                          {c.hold && <div className="hld">hold{c.twoPerson ? ', two people' : ''}</div>}
                        </td>
                        <td>{c.ask}</td>
                        <td className="dim">{c.why}</td>
                      </tr>
                    ))}
                </tbody>
              </table>
              <p style={{ marginTop: 8 }}>
                <b>Loosening:</b> {f.loosen.join(' ')}
              </p>
            </div>
          ))}
        {shelf === 'rules' && (
          <table className="t">
            <tbody>
              {(
                [
                  ['Stages', l.schemes.find((s) => s.code === l.houseRules.scheme)?.name ?? l.houseRules.scheme, 'scheme'],
                  ['Order', l.houseRules.pattern, 'pattern'],
                  ['Numbers', l.houseRules.numbering === 'place' ? 'by place' : 'in order of tightening', 'numbering'],
                  ['Inside a range', l.houseRules.policy, 'policy'],
                  ['Usable range of a wrench', `from ${num(l.houseRules.minFrac * 100)} % of full scale`, 'minFrac'],
                  ['Nut movement in a check round', `${num(l.houseRules.movedLimitDeg)}° at most`, 'movedLimitDeg'],
                  ['Bolt load', `${num(l.houseRules.minYieldPct)} to ${num(l.houseRules.maxYieldPct)} % of yield`, 'maxYieldPct'],
                  [
                    'Limits',
                    Object.entries(l.houseRules.limits)
                      .map(([k, v]) => `${k.replace(/_/g, ' ')} ${num(v)} mm`)
                      .join(', '),
                    'limits',
                  ],
                  ['Setting asked again after', `${num(l.houseRules.pauseMinutes)} min of silence`, ''],
                  ['Protective equipment', l.houseRules.protectiveAtSite, ''],
                ] as const
              ).map(([name, value, why]) => (
                <tr key={name}>
                  <td style={{ fontWeight: 700 }}>{name}</td>
                  <td>{value}</td>
                  <td className="dim">{why ? l.houseRules.reasons[why] : ''}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </section>
    </div>
  );
}
