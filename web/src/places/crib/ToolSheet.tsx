import { Modal } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { v7 as uuidv7 } from 'uuid';
import { api, must, type ToolDetail } from '../../api/client';
import { fitted } from '../../api/photo';
import { day, num, unitText } from '../../kit/numbers';
import { ReasonDialog } from '../../kit/ReasonDialog';
import { ToolDrawing } from '../../kit/ToolString';
import { TagPlate } from '../../rosette/Glyph';
import { ErrorChart } from './ErrorChart';
import { conditions } from './Spans';
import { ToolForm } from './ToolForm';
import { Trust } from './Trust';

interface SheetProps {
  detail: ToolDetail;
  keeper: boolean;
  engineer: boolean;
  onChanged: () => void;
}

/** One tool: what it is, its certificate, what it serves now, whether it can be believed, who has it. */
export function ToolSheet({ detail, keeper, engineer, onChanged }: SheetProps) {
  const t = detail.tool;
  const w = t.tool;
  const unit = unitText(w.unit);
  const [asking, setAsking] = useState<'aside' | 'release'>();
  const [editing, edit] = useDisclosure(false);
  const [copying, copy] = useDisclosure(false);
  const [token, setToken] = useState<string>();
  const [wrong, setWrong] = useState('');
  const photo = detail.files.find((f) => f.kind === 'photo');
  const rows: [string, string | undefined | false | 0][] = [
    [
      'Usable by the house rule',
      w.ratedMax > 0 && w.accuracyPct > 0 && `${num(t.usableMin)} to ${num(t.usableMax)} ${unit}`,
    ],
    [
      'Marks printed from',
      w.kind === 'click' && `${num(w.printedMin)} ${unit}, not to be trusted below ${num(w.ratedMin)}`,
    ],
    [
      'One mark',
      w.graduation > 0 && `${num(w.graduation, 3)} ${unit}${w.mainStep ? `, main line every ${num(w.mainStep)}` : ''}`,
    ],
    ['Other scale', w.secondUnit && unitText(w.secondUnit)],
    ['Accuracy', w.accuracyPct > 0 && `±${num(w.accuracyPct)} %`],
    [
      'Gear ratio, measured',
      w.gear && `${num(w.gear.nominal)} : 1, ${num(w.gear.measured, 3)} : 1 ±${num(w.gear.testPct)} %`,
    ],
    [
      'Input and output',
      w.gear &&
        (w.gear.sameDirection
          ? 'turn the same way; the arm pushes back the other way'
          : 'turn opposite ways; the arm holds their sum'),
    ],
    [
      'Reaction arm',
      w.gear ? `${num(w.gear.armMm)} mm` : w.kind === 'hydraulic_wrench' && w.lengthMm ? `${num(w.lengthMm)} mm` : '',
    ],
    ['Puts out or bears at most', w.maxNm && `${num(w.maxNm)} N·m`],
    ['Pressure at most', w.maxMPa && `${num(w.maxMPa)} MPa (${num(w.maxMPa * 10, 0)} bar)`],
    ['Piston, stroke', w.areaMm2 && `${num(w.areaMm2)} mm², ${num(w.strokeMm ?? 0)} mm`],
    ['Transfer loss', w.lossA && `${num(w.lossA)} + ${num(w.lossB ?? 0)} · d/L`],
    [
      'Hexagon',
      w.acrossFlatsMm &&
        `${num(w.acrossFlatsMm)} mm${w.kind === 'socket' ? (w.impact ? ', for power tools' : ', by hand only') : ''}`,
    ],
    ['Drive', [w.driveIn && `${w.driveIn} in`, w.drive && `${w.drive} out`].filter(Boolean).join(', ')],
    ['Length', w.kind !== 'hydraulic_wrench' && w.lengthMm && `${num(w.lengthMm)} mm`],
    ['Mass', w.massKg && `${num(w.massKg)} kg`],
    ['Lock', w.lock],
    ['Measures', w.directions && (w.directions === 'both' ? 'both ways' : 'clockwise only')],
    [`Certificate ${w.certificate}`, w.calibratedOn && `${w.calibratedOn} to ${w.calibrationEnds}`],
    ['Pulls since', w.cycleLimit && `${num(w.cycles ?? 0, 0)} of ${num(w.cycleLimit, 0)}`],
    ['Maker, serial', [w.maker, w.model, w.serial].filter(Boolean).join(', ')],
    ['Put away', w.storageRule],
    ['Loosening', w.accuracyPct > 0 && w.ratedMax > 0 && (w.mayLoosen ? 'allowed' : 'never with this tool')],
  ];
  async function attach(kind: 'photo' | 'certificate', file: File | undefined) {
    if (!file) return;
    setWrong('');
    try {
      const data = file.type.startsWith('image/') ? await fitted(file) : file;
      await must(
        api.PUT('/tools/{tag}/files/{id}', {
          params: { path: { tag: w.tag, id: uuidv7() }, query: { kind, name: file.name.slice(0, 120) } },
          body: data as unknown as string,
          bodySerializer: (b) => b as unknown as Blob,
          headers: { 'Content-Type': 'application/octet-stream' },
        }),
      );
      onChanged();
    } catch (e) {
      setWrong((e as Error).message);
    }
  }
  return (
    <section className="crib-detail">
      <div style={{ display: 'flex', alignItems: 'center', gap: 12 }}>
        <TagPlate text={w.tag} size={22} />
        <b style={{ font: '700 24px/1 var(--cond)' }}>{t.name.charAt(0).toUpperCase() + t.name.slice(1)}</b>
      </div>
      {t.condition !== 'fit' && (
        <div className={`finding ${t.condition === 'due_soon' ? 'caution' : 'stop'}`}>
          <b>{conditions[t.condition]}</b>
          {t.condition === 'quarantined'
            ? w.stateReason
            : t.condition === 'overdue'
              ? `since ${w.calibrationEnds}. It is not offered for work.`
              : w.cycleLimit && (w.cycles ?? 0) * 10 >= w.cycleLimit * 9
                ? `${w.cycles} of ${w.cycleLimit} pulls.`
                : `on ${w.calibrationEnds}.`}
        </div>
      )}
      {t.wanted && <p className="hld">{t.wanted.replace(/^is/, 'Is')}.</p>}
      {photo ? (
        <img src={`/api/tool-files/${photo.id}`} alt={`${w.tag}, ${t.name}`} className="tool-photo" />
      ) : (
        <div style={{ margin: '8px 0' }}>
          <ToolDrawing kind={w.kind} width={190} />
        </div>
      )}
      <table className="t">
        <tbody>
          {rows.map(([k, v]) =>
            v ? (
              <tr key={k}>
                <td className="dim">{k}</td>
                <td style={{ textAlign: 'right', fontWeight: 600 }}>{v}</td>
              </tr>
            ) : null,
          )}
        </tbody>
      </table>
      {w.chart && w.chart.length > 0 && (
        <>
          <div className="rule" style={{ marginTop: 12 }}>
            Chart of this tool<span className="r">holds for serial {w.serial} alone</span>
          </div>
          <table className="t chart">
            <tbody>
              <tr>
                <th>MPa</th>
                {w.chart.map((p) => (
                  <td key={p.pressureMPa} className="n">
                    {num(p.pressureMPa)}
                  </td>
                ))}
              </tr>
              <tr>
                <th>N·m</th>
                {w.chart.map((p) => (
                  <td key={p.pressureMPa} className="n">
                    {num(p.torqueNm)}
                  </td>
                ))}
              </tr>
            </tbody>
          </table>
        </>
      )}
      <ErrorChart tool={w} />
      {detail.serves.length > 0 && (
        <>
          <div className="rule" style={{ marginTop: 12 }}>
            Serves today
          </div>
          <ul className="used">
            {detail.serves.map((s) => (
              <li key={s.tag}>
                <Link to="/joints/$tag" params={{ tag: s.tag }}>
                  <span className="m">{s.tag}</span> {num(s.nm, 0)} N·m
                </Link>
                <span className={s.usable ? '' : 'hld'}>{s.how}</span>
              </li>
            ))}
          </ul>
        </>
      )}
      <div className="rule" style={{ marginTop: 12 }}>
        Used on{detail.since ? ` since ${detail.since}` : ''}
      </div>
      {detail.used.length ? (
        <ul className="used">
          {detail.used.map((u) => (
            <li key={u.tag}>
              <Link to="/joints/$tag" params={{ tag: u.tag }}>
                <span className="m">{u.tag}</span> {u.name}
              </Link>
              <span className="dim">{day(u.lastUsed)}</span>
            </li>
          ))}
        </ul>
      ) : (
        <p className="dim">No joint yet.</p>
      )}
      <Trust detail={detail} keeper={keeper} onChanged={onChanged} />
      <details style={{ marginTop: 12 }}>
        <summary>Every version of it, {detail.versions.length}</summary>
        <ul className="used">
          {detail.versions.map((v) => (
            <li key={v.version}>
              <span>
                {v.version}. {v.reason}
              </span>
              <span className="dim">
                {v.tool.certificate && `${v.tool.certificate} to ${v.tool.calibrationEnds}, `}
                {v.by}, {day(v.at)}
              </span>
            </li>
          ))}
        </ul>
      </details>
      <div className="rule" style={{ marginTop: 12 }}>
        Papers
      </div>
      <ul className="used">
        {detail.files.map((f) => (
          <li key={f.id}>
            <a href={`/api/tool-files/${f.id}`} target="_blank" rel="noreferrer">
              {f.name}
            </a>
            <span className="dim">
              {f.kind}, {f.addedBy}, {day(f.at)}
            </span>
          </li>
        ))}
      </ul>
      <div className="row-btns" style={{ marginTop: 4 }}>
        {keeper &&
          (['certificate', 'photo'] as const).map((kind) => (
            <label key={kind} className="btn sm">
              Add a {kind}
              <input
                type="file"
                className="sr"
                accept={kind === 'photo' ? 'image/*' : 'image/*,application/pdf'}
                onChange={(e) => {
                  void attach(kind, e.target.files?.[0]);
                  e.target.value = '';
                }}
              />
            </label>
          ))}
        <Link className="btn sm" to="/labels" search={{ of: 'tools', ids: w.tag }}>
          Print its label
        </Link>
        {engineer && (
          <button
            type="button"
            className="btn sm"
            onClick={() =>
              must(api.POST('/tools/{tag}/device', { params: { path: { tag: w.tag } } })).then(
                (d) => {
                  setToken(d.token);
                  onChanged();
                },
                (e: Error) => setWrong(e.message),
              )
            }
          >
            {t.device ? 'New device token' : 'Let it send readings'}
          </button>
        )}
      </div>
      {token && (
        <div className="finding">
          <b>Token of {w.tag}</b>
          <code className="m" style={{ wordBreak: 'break-all' }}>
            {token}
          </code>
          <br />
          Enter it in the device now; it is not shown again. One given before holds no more.
        </div>
      )}
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
      <div className="row-btns">
        {w.state === 'in_service' ? (
          <button type="button" className="btn" onClick={() => setAsking('aside')}>
            Put it aside
          </button>
        ) : (
          keeper && (
            <button type="button" className="btn now" onClick={() => setAsking('release')}>
              Release it
            </button>
          )
        )}
        {keeper && (
          <>
            <button type="button" className="btn" onClick={edit.open}>
              Change its data
            </button>
            <button type="button" className="btn" onClick={copy.open}>
              Copy
            </button>
          </>
        )}
      </div>
      <ReasonDialog
        opened={asking === 'aside'}
        title={`Put ${w.tag} aside`}
        text="It is not offered for work until someone qualified has looked at it. Joints done with it since its last good evidence are in doubt."
        choices={['Dropped', 'Overloaded', 'Click sticks or comes late', 'Damaged', 'Found out at another site']}
        verb="Put it aside"
        onClose={() => setAsking(undefined)}
        onDone={async (reason) => {
          await must(api.POST('/tools/{tag}/quarantine', { params: { path: { tag: w.tag } }, body: { reason } }));
          onChanged();
        }}
      />
      <ReasonDialog
        opened={asking === 'release'}
        title={`Release ${w.tag}`}
        text="Say what was checked."
        choices={['Checked on the bench, within its class']}
        verb="Release it"
        onClose={() => setAsking(undefined)}
        onDone={async (reason) => {
          await must(api.POST('/tools/{tag}/release', { params: { path: { tag: w.tag } }, body: { reason } }));
          onChanged();
        }}
      />
      <Modal opened={editing} onClose={edit.close} title={`Data of ${w.tag}`} size="xl">
        <ToolForm
          start={w}
          fixedTag
          onDone={() => {
            edit.close();
            onChanged();
          }}
        />
      </Modal>
      <Modal opened={copying} onClose={copy.close} title={`Another one like ${w.tag}`} size="xl">
        <ToolForm
          start={{
            ...w,
            tag: '',
            serial: '',
            certificate: '',
            calibratedOn: '',
            calibrationEnds: '',
            points: undefined,
            state: 'in_service',
            stateReason: undefined,
          }}
          onDone={() => {
            copy.close();
            onChanged();
          }}
        />
      </Modal>
    </section>
  );
}
