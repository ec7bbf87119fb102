import type { components } from '../../api/schema';

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
