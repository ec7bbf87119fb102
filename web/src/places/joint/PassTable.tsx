import type { RunState } from '../../api/client';
import { num, unitText } from '../../kit/numbers';

/** The passes as a ladder: what is set, what it gives at the nut, and how far each has come. */
export function PassTable({ state: s, onlyHeldBack, all }: { state: RunState; onlyHeldBack?: boolean; all?: boolean }) {
  const several = new Set(s.passes.map((p) => p.unit).filter(Boolean)).size > 1;
  const first = s.passes.find((p) => p.setting);
  const torque = s.passes.some((p) => p.torqueNm || p.lowNm);
  const easing = s.passes.some((p) => p.kind === 'ease');
  // Of a long piece of work the passes around the present one are shown.
  const at = s.pass ? s.pass - 1 : s.passes.length - 1;
  const most = 3;
  const from = s.passes.length > 6 ? Math.max(0, Math.min(at - 1, s.passes.length - most)) : 0;
  const shown = s.passes.length > 6 && !all ? s.passes.slice(from, from + most) : s.passes;
  return (
    <div className="lad">
      <table className="t">
        <thead>
          <tr>
            <th>Pass</th>
            {torque && <th className="n x">At the nut, N·m</th>}
            <th className="n">
              {first ? `Set${several ? '' : `, ${unitText(first.unit || 'N_m')}`}` : easing ? 'Back' : 'Turn'}
            </th>
            {easing && <th className="n">Left, about</th>}
            <th className="n">Done</th>
          </tr>
        </thead>
        <tbody>
          {shown.map((p) => {
            const bad = [
              p.short
                ? `${p.short} ${p.kind === 'ease' ? 'still held' : ['effort', 'stretch'].includes(p.kind) ? 'to adjust' : 'short'}`
                : '',
              p.over ? `${p.over} over` : '',
              p.skipped ? `${p.skipped} for later` : '',
              p.moved ? `${p.moved} turned` : '',
            ].filter(Boolean);
            const cur = p.number === s.pass;
            return (
              <tr
                key={p.number}
                className={cur ? 'cur' : p.void ? 'void' : ''}
                title={p.void}
                aria-current={cur ? 'step' : undefined}
              >
                <td>
                  {cur ? <b>{p.number}</b> : p.number} &nbsp;{p.name}
                  {p.groupName && <small className="dim"> {p.groupName.toLowerCase()}</small>}
                </td>
                {torque && (
                  <td className="n x">
                    {p.torqueNm ? num(p.torqueNm, 0) : p.lowNm ? `${num(p.lowNm, 1)} to ${num(p.highNm ?? 0, 1)}` : '–'}
                  </td>
                )}
                <td className="n">
                  {p.setting ? num(p.setting, 2) : p.turnDeg ? `${num(p.turnDeg, 0)}°` : '–'}
                  {several && p.setting ? ` ${unitText(p.unit)}` : ''}
                </td>
                {easing && <td className="n">{p.kind === 'ease' ? `${num(p.percent, 0)} %` : '–'}</td>}
                <td
                  className={`n ${cur ? 'nw' : bad.length ? 'hld' : ''}`}
                  style={{ font: '600 15px/1.2 var(--text)' }}
                >
                  {p.void ? 'set aside' : p.done === 0 && !cur && bad.length === 0 ? '–' : [p.done, ...bad].join(', ')}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {shown.length < s.passes.length && (
        <p className="dim">
          passes {from + 1} to {from + shown.length} of {s.passes.length}
        </p>
      )}
      {onlyHeldBack && (
        <p className="hld" style={{ fontWeight: 600, marginTop: 4 }}>
          Only bolts left over are open in this pass.
        </p>
      )}
    </div>
  );
}
