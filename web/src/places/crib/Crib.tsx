import { Modal, NumberInput, Select, TextInput } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { useQueryClient } from '@tanstack/react-query';
import { getRouteApi, Link } from '@tanstack/react-router';
import { useState } from 'react';
import { api, must, Refused, type ToolView, useToday, useTool, useTools, type Wrench } from '../../api/client';
import { useSession } from '../../api/session';
import { day, num, unitText } from '../../kit/numbers';
import { ReasonDialog } from '../../kit/ReasonDialog';
import { TagPlate } from '../../rosette/Glyph';
import './crib.css';
import { Trust } from './Trust';

const route = getRouteApi('/crib');
const words: Record<string, string> = {
  fit: 'fit',
  due_soon: 'calibration ends soon',
  overdue: 'calibration ran out',
  quarantined: 'put aside',
};
const X = (v: number) => ((Math.log10(Math.max(v, 8)) - 0.9) / 2.5) * 100;

/** What each wrench can serve, on one scale of torque; its certificate; whether it may be used today. */
export function CribPlace() {
  const tools = useTools();
  const today = useToday();
  const search = route.useSearch();
  const navigate = route.useNavigate();
  const { person } = useSession();
  const qc = useQueryClient();
  const list = tools.data ?? [];
  const chosen = search.tool ?? list[0]?.wrench.tag;
  const detail = useTool(chosen);
  const [asking, setAsking] = useState<'aside' | 'release'>();
  const [editing, edit] = useDisclosure(false);
  const [fresh, add] = useDisclosure(false);
  const keeper = person?.role === 'engineer' || person?.role === 'inspector' || person?.role === 'administrator';
  const joints = (today.data?.inHand ?? []).map((h) => ({ tag: h.tag, nm: h.state?.passes.at(-1)?.torqueNm ?? 0 })).filter((j) => j.nm > 0);
  const marks = [...joints].sort((a, b) => a.nm - b.nm).filter((j, i, all) => i === 0 || X(j.nm) - X(all[i - 1]?.nm ?? 0) > 5);
  const t = detail.data?.tool;
  const w = t?.wrench;
  const refresh = () => void qc.invalidateQueries({ queryKey: ['tools'] });
  return (
    <div className="crib">
      <section className="crib-list">
        <div className="rule">
          What each wrench can serve<span className="r">N·m at the nut; a ring where a bar meets a joint in hand</span>
        </div>
        {tools.isError && <p className="wrong">{(tools.error as Error).message}</p>}
        <div className="crib-axis" aria-hidden="true">
          {marks.map((j) => (
            <span key={j.tag} style={{ left: `${X(j.nm)}%` }}>
              <i />
              <b className="m">{num(j.nm, 0)}</b>
            </span>
          ))}
        </div>
        {list.map((v) => (
          <button
            key={v.wrench.tag}
            type="button"
            className={`tool${v.wrench.tag === chosen ? ' chosen' : ''}`}
            aria-pressed={v.wrench.tag === chosen}
            onClick={() => void navigate({ search: { tool: v.wrench.tag }, replace: true })}
          >
            <span>
              <b className="m">{v.wrench.tag}</b>
              <small>{v.holder ? `out: ${v.holder}` : `click, ${unitText(v.wrench.unit)}`}</small>
            </span>
            <span className="range">
              <Bar v={v} joints={joints} />
            </span>
            <span className={v.condition === 'fit' ? 'dim' : 'hld'} style={{ fontWeight: v.condition === 'fit' ? 500 : 600 }}>
              {v.condition === 'fit'
                ? `to ${day(v.wrench.calibrationEnds)}`
                : v.condition === 'due_soon'
                  ? `ends in ${v.daysLeft} days`
                  : words[v.condition]}
            </span>
          </button>
        ))}
        {list.length === 0 && !tools.isPending && <p className="empty">No wrench yet. Enter the first with its certificate.</p>}
        <div className="row-btns" style={{ padding: '0 14px' }}>
          {keeper && (
            <button type="button" className="btn sm" onClick={add.open}>
              Enter a wrench
            </button>
          )}
          <span className="dim">Solid: usable range by the house rule, from a fifth of full scale. Striped: not to be used.</span>
        </div>
      </section>
      {w && t && (
        <section className="crib-detail">
          <div style={{ display: 'flex', alignItems: 'center', gap: 12 }}>
            <TagPlate text={w.tag} size={22} />
            <b style={{ font: '700 24px/1 var(--cond)' }}>
              Click wrench, {num(w.ratedMin)} to {num(w.ratedMax)} {unitText(w.unit)}
            </b>
          </div>
          {t.condition !== 'fit' && (
            <div className={`finding ${t.condition === 'due_soon' ? 'caution' : 'stop'}`}>
              <b>{words[t.condition]}</b>
              {t.condition === 'quarantined'
                ? w.stateReason
                : t.condition === 'overdue'
                  ? `since ${w.calibrationEnds}. It is not offered for work.`
                  : `on ${w.calibrationEnds}.`}
            </div>
          )}
          <WrenchDrawing />
          <table className="t">
            <tbody>
              <Kv k="Usable by the house rule" v={`${num(t.usableMin)} to ${num(t.usableMax)} ${unitText(w.unit)}`} />
              <Kv k="Marks printed from" v={`${num(w.printedMin)} ${unitText(w.unit)}, not to be trusted below ${num(w.ratedMin)}`} />
              <Kv k="One mark on the grip" v={`${num(w.graduation)} ${unitText(w.unit)}, main line every ${num(w.mainStep)}`} />
              <Kv k="Accuracy" v={`±${num(w.accuracyPct)} %`} />
              <Kv k={`Certificate ${w.certificate}`} v={`${w.calibratedOn} to ${w.calibrationEnds}`} />
              <Kv k="Maker, serial" v={`${w.maker}, ${w.serial}`} />
              <Kv k="Drive, lock" v={`${w.drive}, ${w.lock}`} />
              <Kv k="Put away" v={w.storageRule} />
              <Kv k="Loosening" v={w.mayLoosen ? 'allowed' : 'never with this wrench'} />
              <Kv k="Place" v={w.place} />
            </tbody>
          </table>
          <div className="rule" style={{ marginTop: 12 }}>
            Used on since {detail.data?.since}
          </div>
          {detail.data?.used.length ? (
            <ul className="used">
              {detail.data.used.map((u) => (
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
          {detail.data && <Trust detail={detail.data} keeper={keeper} />}
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
              <button type="button" className="btn" onClick={edit.open}>
                Change its data
              </button>
            )}
          </div>
          <ReasonDialog
            opened={asking === 'aside'}
            title={`Put ${w.tag} aside`}
            text="It is not offered for work until someone qualified has looked at it."
            choices={['Dropped', 'Click sticks or comes late', 'Damaged']}
            verb="Put it aside"
            onClose={() => setAsking(undefined)}
            onDone={async (reason) => {
              await must(api.POST('/tools/{tag}/quarantine', { params: { path: { tag: w.tag } }, body: { reason } }));
              refresh();
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
              refresh();
            }}
          />
          <Modal opened={editing} onClose={edit.close} title={`Data of ${w.tag}`} size="xl">
            <WrenchDataForm
              start={w}
              fixedTag
              onDone={() => {
                edit.close();
                refresh();
              }}
            />
          </Modal>
        </section>
      )}
      <Modal opened={fresh} onClose={add.close} title="Enter a wrench" size="xl">
        <WrenchDataForm
          start={blank}
          onDone={(tag) => {
            add.close();
            refresh();
            void navigate({ search: { tool: tag } });
          }}
        />
      </Modal>
    </div>
  );
}

const blank: Wrench = {
  tag: '',
  maker: '',
  serial: '',
  kind: 'click',
  unit: 'N_m',
  ratedMin: 20,
  ratedMax: 100,
  printedMin: 20,
  mainStep: 5,
  graduation: 0.5,
  accuracyPct: 4,
  drive: '1/2 in',
  lock: 'end knob',
  storageRule: 'Wind to the lowest mark, never below it, then lock.',
  mayLoosen: false,
  place: 'crib',
  state: 'in_service',
  certificate: '',
  calibratedOn: '',
  calibrationEnds: '',
};

function Kv({ k, v }: { k: string; v: string }) {
  return (
    <tr>
      <td className="dim">{k}</td>
      <td style={{ textAlign: 'right', fontWeight: 600 }}>{v}</td>
    </tr>
  );
}

function Bar({ v, joints }: { v: ToolView; joints: { tag: string; nm: number }[] }) {
  const a = X(v.minNm);
  const b = X(v.maxNm);
  const bad = v.condition === 'overdue' || v.condition === 'quarantined';
  return (
    <>
      <i className={`tool-bar ${v.condition}`} style={{ left: `${a}%`, width: `${b - a}%` }} />
      <em style={{ left: `${a}%` }}>{num(v.minNm, 0)}</em>
      <em style={{ left: `${b}%`, transform: 'translateX(-100%)' }}>{num(v.maxNm, 0)}</em>
      {!bad &&
        joints
          .filter((j) => j.nm >= v.minNm && j.nm <= v.maxNm)
          .map((j) => <u key={j.tag} style={{ left: `${X(j.nm)}%` }} title={j.tag} />)}
    </>
  );
}

function WrenchDrawing() {
  const line = { fill: 'var(--film-2)', stroke: 'var(--ink)', strokeWidth: 1.5 };
  return (
    <svg viewBox="0 0 392 74" width="100%" style={{ maxWidth: 392, margin: '12px 0 6px' }} aria-hidden="true">
      <path d="M8 37H388" style={{ stroke: 'var(--ink-3)', strokeWidth: 1, strokeDasharray: '14 4 3 4' }} />
      <path d="M330 20H356A17 17 0 0 1 356 54H330Z" style={line} />
      <rect x="346" y="27" width="20" height="20" style={{ fill: 'var(--film)', stroke: 'var(--ink)', strokeWidth: 1.3 }} />
      <rect x="150" y="28" width="180" height="18" style={line} />
      {[0, 1, 2, 3, 4, 5, 6, 7, 8].map((i) => (
        <path key={i} d={`M${160 + i * 12} 28v${i % 2 ? 6 : 10}`} style={{ stroke: 'var(--ink)', strokeWidth: 1.2 }} />
      ))}
      <path d="M150 24L132 18H20A8 8 0 0 0 12 26V48A8 8 0 0 0 20 56H132L150 50Z" style={line} />
      <rect x="26" y="18" width="92" height="38" style={{ fill: 'url(#hCut)' }} />
      <rect x="26" y="18" width="92" height="38" style={{ fill: 'url(#hCutB)' }} />
    </svg>
  );
}

function WrenchDataForm({ start, fixedTag, onDone }: { start: Wrench; fixedTag?: boolean; onDone: (tag: string) => void }) {
  const [w, setW] = useState<Wrench>(start);
  const [wrong, setWrong] = useState<Error>();
  const set = (change: Partial<Wrench>) => setW((old) => ({ ...old, ...change }));
  const err = (f: string) => (wrong instanceof Refused && wrong.field === f ? wrong.message : undefined);
  const numbers: [keyof Wrench, string][] = [
    ['ratedMin', 'Rated from'],
    ['ratedMax', 'Rated to (full scale)'],
    ['printedMin', 'Lowest mark printed'],
    ['mainStep', 'Main line every'],
    ['graduation', 'One mark on the grip'],
    ['accuracyPct', 'Accuracy, ± %'],
  ];
  const texts: [keyof Wrench, string][] = [
    ['maker', 'Maker'],
    ['serial', 'Serial'],
    ['drive', 'Drive square'],
    ['lock', 'Lock'],
    ['storageRule', 'How it is put away'],
    ['place', 'Place'],
    ['certificate', 'Certificate'],
  ];
  const fields = ['tag', ...numbers.map((x) => x[0]), 'calibratedOn', 'calibrationEnds'] as string[];
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        setWrong(undefined);
        must(api.PUT('/tools/{tag}', { params: { path: { tag: w.tag || '-' } }, body: w })).then(() => onDone(w.tag), setWrong);
      }}
    >
      <div className="fields">
        <TextInput
          label="Tag"
          value={w.tag}
          disabled={!!fixedTag}
          onChange={(e) => set({ tag: e.currentTarget.value.trim().toUpperCase() })}
          error={err('tag')}
        />
        <Select
          label="Unit of the scale"
          value={w.unit}
          onChange={(v) => set({ unit: v ?? 'N_m' })}
          data={[
            { value: 'N_m', label: 'N·m' },
            { value: 'ft_lbf', label: 'ft·lbf' },
            { value: 'in_lbf', label: 'in·lbf' },
          ]}
        />
        {numbers.map(([k, label]) => (
          <NumberInput
            key={k}
            label={label}
            value={w[k] as number}
            onChange={(v) => set({ [k]: typeof v === 'number' ? v : Number(v) || 0 } as Partial<Wrench>)}
            min={0}
            error={err(k)}
          />
        ))}
        {texts.map(([k, label]) => (
          <TextInput
            key={k}
            label={label}
            value={w[k] as string}
            onChange={(e) => set({ [k]: e.currentTarget.value } as Partial<Wrench>)}
          />
        ))}
        <TextInput
          type="date"
          label="Calibrated on"
          value={w.calibratedOn}
          onChange={(e) => set({ calibratedOn: e.currentTarget.value })}
          error={err('calibratedOn')}
        />
        <TextInput
          type="date"
          label="Calibration ends"
          value={w.calibrationEnds}
          onChange={(e) => set({ calibrationEnds: e.currentTarget.value })}
          error={err('calibrationEnds')}
        />
      </div>
      {wrong && !(wrong instanceof Refused && wrong.field && fields.includes(wrong.field)) && <p className="wrong">{wrong.message}</p>}
      <button type="submit" className="btn now wide" style={{ marginTop: 12 }}>
        Keep the wrench
      </button>
    </form>
  );
}
