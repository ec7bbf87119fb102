import { getRouteApi, Link } from '@tanstack/react-router';
import { useState } from 'react';
import { useRecord } from '../../api/client';
import { num, unitText, when } from '../../kit/numbers';
import { WorkingSheet } from '../../kit/Working';
import { TagPlate } from '../../rosette/Glyph';
import { GroupRosette, GroupStrip, groupOf } from '../../rosette/GroupRosette';
import { Hub } from '../../rosette/Rosette';
import { OwnTargets } from '../joint/OwnTargets';
import { PassTable } from '../joint/PassTable';
import { Deviations } from '../joint/Prove';
import { MeasuredBy } from '../lab/Expected';
import { AdditionDialog, kindName } from './AdditionDialog';
import { Additions } from './Additions';
import { ReportView } from './Verify';
import './records.css';

const route = getRouteApi('/records/$number');

/** One sealed record, verified as it is opened. */
export function RecordPage() {
  const { number } = route.useParams();
  const rec = useRecord(number);
  const [shown, setShown] = useState<string>();
  const [adding, setAdding] = useState(false);
  if (!rec.data) return <p className="empty">{rec.isError ? (rec.error as Error).message : 'Fetching the record.'}</p>;
  const { row, record, report, additions } = rec.data;
  const { plan, state: s } = record;
  const g = groupOf(plan, shown);
  const back = new Set(s.takenBack);
  return (
    <div className="page">
      <div style={{ display: 'flex', gap: 10, alignItems: 'center', flexWrap: 'wrap' }}>
        <TagPlate text={row.tag} size={26} />
        <h1 className="title">Record {row.number}</h1>
        <span style={{ flex: 1 }} />
        <a className="btn" href={`/api/records/${number}/certificate.pdf`} target="_blank" rel="noreferrer">
          Certificate (PDF)
        </a>
        <a className="btn" href={`/api/records/${number}/tag.pdf`} target="_blank" rel="noreferrer">
          Tag (PDF)
        </a>
        <a className="btn" href={`/api/records/${number}/whole.json`} download={`${number}.json`}>
          Sealed file
        </a>
        <a className="btn" href={`/api/records/${number}/results.xlsx`} download={`${number}.xlsx`}>
          Every bolt (XLSX)
        </a>
        <Link className="btn" to="/joints/$tag" params={{ tag: row.tag }}>
          The joint
        </Link>
        <Link className="btn" to="/joints/$tag/life" params={{ tag: row.tag }}>
          Its life
        </Link>
      </div>
      <div
        style={{ display: 'grid', gridTemplateColumns: 'minmax(280px, 420px) 1fr', gap: 24, marginTop: 12 }}
        className="record-grid"
      >
        <div>
          <GroupRosette
            size={400}
            group={g}
            chalk={plan.chalk}
            fasteners={s.fasteners}
            aim={1}
            tMax={1.14}
            scale={g.finalNm ? [{ t: 1, text: num(g.finalNm, 0) }] : []}
            label={`${row.tag}: ${s.verdict.word}`}
            hub={
              g.layout.kind && g.layout.kind !== 'circle' ? undefined : (
                <Hub n={g.layout.count} of={`${g.noun || 'bolt'}s`} k={2} />
              )
            }
          />
          <GroupStrip plan={plan} fasteners={s.fasteners} present={g.group} onChoose={setShown} />
          <MeasuredBy tag={row.tag} record={number} key={number} />
        </div>
        <div>
          <ReportView report={report} />
          <table className="t" style={{ marginTop: 10 }}>
            <tbody>
              {[
                ['Joint', `${row.name}, ${row.area}`],
                ['Target', `${row.target}, from ${plan.specification.document} ${plan.specification.revision}`],
                ['Verdict', `${s.verdict.word}. ${s.verdict.sentence}`],
                ...(g.preloadKN > 0
                  ? [
                      [
                        'Preload',
                        `${num(g.preloadKN, 0)} kN in each ${g.noun || 'bolt'}, ${num(g.preloadMinKN, 0)} to ${num(g.preloadMaxKN, 0)}`,
                      ],
                    ]
                  : []),
                ['Lubricant', s.checks.find((c) => c.code === 'lubricant')?.text ?? ''],
                ['Tightened', `${row.tightenedBy}`],
                ['Proved', `${row.provedBy}`],
                ['Sealed', new Date(row.sealedAt).toLocaleString('en-GB')],
                ['Digest', row.mark],
                ...(additions.length > 0
                  ? [['Added since', `${additions.length}: ${additions.map((a) => kindName(a.kind)).join(', ')}`]]
                  : []),
              ].map(([k, v]) => (
                <tr key={k}>
                  <td className="lab">{k}</td>
                  <td style={{ overflowWrap: 'anywhere' }}>{v}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      </div>
      <section className="added">
        <h2 className="rule">Added since it was sealed</h2>
        {additions.length === 0 && <p className="dim">Nothing. The joint stands by what is above.</p>}
        <Additions list={additions} name={(f) => s.fasteners[f - 1]?.name ?? String(f)} />
        <button type="button" className="btn" onClick={() => setAdding(true)}>
          Add to this record
        </button>
        <AdditionDialog view={rec.data} opened={adding} onClose={() => setAdding(false)} />
      </section>
      <PassTable state={s} all />
      <OwnTargets plan={plan} />
      <Deviations list={s.deviations} sealed onAccept={() => undefined} />
      <details style={{ marginTop: 12 }}>
        <summary>Every event, in order ({record.events.length})</summary>
        <table className="t">
          <tbody>
            {record.events.map((e) => (
              <tr key={e.seq} style={back.has(e.event.id) ? { textDecoration: 'line-through' } : undefined}>
                <td className="n">{e.seq}</td>
                <td className="dim">{when(e.event.at)}</td>
                <td>{e.event.kind.replace(/_/g, ' ')}</td>
                <td>
                  {e.event.fastener
                    ? `${s.fasteners[e.event.fastener - 1]?.name}, pass ${e.event.pass}, ${e.event.outcome ?? ''} ${e.event.setting ? `${num(e.event.setting)} ${unitText(s.passes.find((p) => p.number === e.event.pass)?.unit || 'N_m')}` : ''}`
                    : (e.event.check ?? e.event.purpose ?? '')}{' '}
                  {e.event.answer ?? ''} {e.event.reason ?? ''}
                </td>
                <td>{e.event.signer?.name ?? e.event.person.name}</td>
                <td className="m">{e.hash.slice(0, 8)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
      <details style={{ marginTop: 8 }}>
        <summary>Working of the target</summary>
        <WorkingSheet workings={plan.workings} />
      </details>
      <p className="dim" style={{ marginTop: 14, borderTop: '1px solid var(--ink)', paddingTop: 8 }}>
        {record.statement}
      </p>
    </div>
  );
}
