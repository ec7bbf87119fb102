import { conditionWords } from '../../kit/conditions';
import { firstDemand } from '../../kit/demand';
import { Findings } from '../../kit/Findings';
import { num, unitText, when } from '../../kit/numbers';
import { firstOf } from '../../rosette/GroupRosette';
import { BoltSection } from './BoltSection';
import { GroupTable, targetText } from './GroupTable';
import type { Reading } from './useRead';

/** What the document demands, and what it leaves to be supplied. */
export function ReadDemand({ r }: { r: Reading }) {
  const { joint, plan, spec, group: g, several, maySpecify } = r;
  const f = spec && firstDemand(spec);
  const table = plan && firstOf(plan).table;
  return (
    <section className="read-spec">
      <div className="rule">
        What the document demands<span className="r">version {spec?.version ?? 0}</span>
      </div>
      {spec && (
        <>
          {(!plan || plan.family === 'gasketed_flange') && <BoltSection spec={spec} />}
          <table className="t">
            {plan && several && <GroupTable plan={plan} shown={g?.group} onChoose={r.setShown} />}
            <tbody>
              <Row
                name="Document"
                value={
                  spec.document
                    ? `${spec.document}${spec.revision ? `, revision ${spec.revision}` : ''}${spec.page ? `, ${spec.page}` : ''}`
                    : spec.noSourceWhy
                      ? `none; allowed by ${spec.noSourceBy}: ${spec.noSourceWhy}`
                      : 'to be supplied'
                }
                strong={!spec.document}
              />
              {plan && (plan.variantWords?.length ?? 0) > 0 && (
                <Row name="Variant" value={(plan.variantWords ?? []).join(', ')} />
              )}
              {!several && f && (
                <>
                  <Row name="Target" value={targetText(f.target)} strong />
                  {table && <Row name="Looked up" value={`${table.name}, line ${table.keys.join(', ')}`} />}
                  {f.lubricant && (
                    <Row
                      name="Holds for"
                      value={
                        plan?.lubricantCards.find((l) => l.code === f.lubricant)?.name ??
                        (f.lubricant === 'not_named' ? 'not named' : f.lubricant)
                      }
                    />
                  )}
                  {f.thread && (
                    <Row
                      name="Bolts"
                      value={`${f.bolts || plan?.groups[0]?.layout.count || ''} × ${f.thread} ${f.material}${f.lengthMm ? `, ${num(f.lengthMm)} mm long` : ''}`}
                    />
                  )}
                </>
              )}
              {(!plan || plan.parts.some((p) => p.code === 'gasket')) && (
                <Row name="Gasket" value={spec.gasket || 'to be supplied'} />
              )}
              {Object.entries(spec.figures ?? {}).map(([code, v]) => {
                const f = r.figures.find((x) => x.code === code);
                return (
                  <Row key={code} name="Figure" value={`${f?.name ?? code}: ${num(v, 3)} ${unitText(f?.unit ?? '')}`} />
                );
              })}
              {g?.snug && <Row name="Snug" value={g.snug} />}
              {g?.condition && <Row name="Threads" value={`${conditionWords(g.condition)}. ${g.where ?? ''}`} />}
            </tbody>
          </table>
        </>
      )}
      {plan && plan.toBeSupplied.length > 0 && (
        <div className="finding stop">
          <b>To be supplied before work starts</b>
          {plan.toBeSupplied.map((t) => (
            <div key={t}>{t}</div>
          ))}
        </div>
      )}
      <div className="row-btns">
        {maySpecify && !r.joint?.retired && (
          <button type="button" className="btn sm" onClick={r.editing.open}>
            New version
          </button>
        )}
        {joint && joint.versions.length > 1 && (
          <span className="dim">
            {joint.versions.length} versions; the last by {joint.versions[0]?.madeBy}, {when(joint.versions[0]?.madeAt)}
            : {joint.versions[0]?.reason}
          </span>
        )}
      </div>
      <Findings list={plan?.findings ?? []} />
    </section>
  );
}

function Row({ name, value, strong }: { name: string; value: string; strong?: boolean }) {
  return (
    <tr>
      <td className="lab" style={{ width: 84 }}>
        {name}
      </td>
      <td style={strong ? { fontWeight: 700 } : undefined}>{value}</td>
    </tr>
  );
}
