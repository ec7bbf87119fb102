import type { RunState } from '../../api/client';
import { num, unitText } from '../../kit/numbers';

/** The passes as a ladder: what is set, what it gives at the nut, and how far each has come. */
export function PassTable({ state: s, onlyHeldBack }: { state: RunState; onlyHeldBack?: boolean }) {
  return (
    <div className="lad">
      <table className="t">
        <thead>
          <tr>
            <th>Pass</th>
            <th className="n x">At the nut, N·m</th>
            <th className="n">Set, {unitText(s.passes[0]?.unit ?? 'N_m')}</th>
            <th className="n">Done</th>
          </tr>
        </thead>
        <tbody>
          {s.passes.map((p) => {
            const bad = [
              p.short ? `${p.short} short` : '',
              p.over ? `${p.over} over` : '',
              p.skipped ? `${p.skipped} for later` : '',
              p.moved ? `${p.moved} turned` : '',
            ].filter(Boolean);
            const cur = p.number === s.pass;
            return (
              <tr key={p.number} className={cur ? 'cur' : ''} aria-current={cur ? 'step' : undefined}>
                <td>
                  {cur ? <b>{p.number}</b> : p.number} &nbsp;{p.name}
                </td>
                <td className="n x">{num(p.torqueNm, 0)}</td>
                <td className="n">{num(p.setting, 2)}</td>
                <td className={`n ${cur ? 'nw' : bad.length ? 'hld' : ''}`} style={{ font: '600 15px/1.2 var(--text)' }}>
                  {p.done === 0 && !cur && bad.length === 0 ? '–' : [p.done, ...bad].join(', ')}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {onlyHeldBack && (
        <p className="hld" style={{ fontWeight: 600, marginTop: 4 }}>
          Only bolts left over are open in this pass.
        </p>
      )}
    </div>
  );
}
