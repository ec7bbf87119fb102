import type { components } from '../../api/schema';
import { num } from '../../kit/numbers';

type Library = components['schemas']['Library'];

/** The procedures, check by check, with the reason for each. */
export function Procedures({ l, has }: { l: Library; has: (text: string) => boolean }) {
  return (
    <>
      {l.families.map((f) => (
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
    </>
  );
}

/** The house rules in force, each with its reason. */
export function Rules({ l }: { l: Library }) {
  return (
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
  );
}
