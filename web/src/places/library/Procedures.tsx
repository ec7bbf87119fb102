import { useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { api, type Family, must, type ProcedureDetail, useFamilies, useProcedure } from '../../api/client';
import { useSession } from '../../api/session';
import { when } from '../../kit/numbers';
import { limitText } from '../joint/limits';
import { FamilyMark } from '../joints/FamilyCards';
import { ProcedureEditor } from './ProcedureEditor';
import '../joints/joints.css';

interface Props {
  code: string | undefined; // the procedure looked at
  has: (text: string) => boolean;
  onOpen: (code: string | undefined) => void;
}

export const stopWord: Record<string, string> = {
  ready: 'Ready',
  tighten: 'Tighten',
  prove: 'Prove',
  hand_over: 'Hand over',
};

/** The procedures: every family, the version in force, and the site's own. */
export function Procedures({ code, has, onOpen }: Props) {
  const families = useFamilies();
  if (code) return <Procedure key={code} code={code} onBack={() => onOpen(undefined)} onOpen={onOpen} />;
  const list = (families.data ?? []).filter((f) => has(`${f.name} ${f.looks} ${f.words.join(' ')}`));
  return (
    <>
      <p className="dim">
        Each family is led by its procedure: parts, steps, checks, holds and the reason for each. A site makes its own
        version by copying, or a family of its own by writing one under a code of its own; an engineer approves it; work
        that has begun goes on with the version it began with.
      </p>
      <div className="family-cards">
        {list.map((f) => (
          <button key={f.code} type="button" className="family" onClick={() => onOpen(f.code)}>
            <FamilyMark row={f} />
            <span>
              <b>{f.name}</b>
              <small>{f.looks}</small>
              <small className="dim">
                version {f.version}
                {f.site ? ', the site’s own' : ', built in'} · {f.steps} steps, {f.checks} checks,{' '}
                {f.holds === 1 ? '1 hold' : `${f.holds} holds`}
              </small>
              {f.drafts > 0 && <small className="hld">{f.drafts} waiting for an engineer</small>}
            </span>
          </button>
        ))}
      </div>
      {families.data && list.length === 0 && <p className="empty">No procedure has these words.</p>}
    </>
  );
}

/** A file offered for saving. */
function save(name: string, text: string) {
  const a = document.createElement('a');
  a.href = URL.createObjectURL(new Blob([text], { type: 'application/yaml' }));
  a.download = name;
  a.click();
  URL.revokeObjectURL(a.href);
}

function Procedure({ code, onBack, onOpen }: { code: string; onBack: () => void; onOpen: (code: string) => void }) {
  const [version, setVersion] = useState(0);
  const [editing, setEditing] = useState(false);
  const [wrong, setWrong] = useState('');
  const qc = useQueryClient();
  const session = useSession();
  const detail = useProcedure(code, version);
  const d = detail.data;
  if (!d) return <p className="empty">{detail.isError ? (detail.error as Error).message : 'One moment.'}</p>;
  const engineer = session.may('approveProcedure');
  const may = session.may('putProcedure');
  const changed = () => {
    void qc.invalidateQueries({ queryKey: ['library'] });
    void qc.invalidateQueries({ queryKey: ['joint'] });
  };
  if (editing)
    return (
      <ProcedureEditor
        detail={d}
        onClose={() => setEditing(false)}
        onKept={(kept, v) => {
          changed();
          if (kept !== code) return onOpen(kept);
          setVersion(v);
          setEditing(false);
        }}
      />
    );
  const shown = d.versions.find((v) => v.version === d.family.version);
  const draft = shown?.site && !shown.approvedAt;
  async function approve() {
    setWrong('');
    try {
      await must(
        api.POST('/procedures/{code}/versions/{version}/approve', {
          params: { path: { code, version: d?.family.version ?? 0 } },
        }),
      );
      changed();
    } catch (e) {
      setWrong((e as Error).message);
    }
  }
  return (
    <div className="procedure">
      <div className="row-btns">
        <button type="button" className="btn sm" onClick={onBack}>
          All families
        </button>
        <button
          type="button"
          className="btn sm"
          disabled={!may}
          onClick={() => setEditing(true)}
          title={may ? undefined : 'An engineer or inspector changes a procedure'}
        >
          {shown?.site ? 'New version from this' : 'Make the site’s own from it'}
        </button>
        <button type="button" className="btn sm" onClick={() => save(`${code}-${d.family.version}.yaml`, d.yaml)}>
          Save as YAML
        </button>
        <a className="btn sm" href="/api/procedure-schema" target="_blank" rel="noreferrer">
          Schema
        </a>
        <button type="button" className="btn sm" onClick={() => print()}>
          Print
        </button>
        {draft && (
          <button type="button" className="btn now sm" disabled={!engineer} onClick={() => void approve()}>
            Approve version {d.family.version}
          </button>
        )}
      </div>
      {wrong && <p className="wrong">{wrong}</p>}
      {draft && (
        <p className="finding caution">
          <b>A draft of {shown?.madeBy}.</b> No work is planned by it until an engineer approves it.
          {!engineer && ' Ask an engineer.'}
        </p>
      )}
      <ProcedureView family={d.family} />
      <div className="rule">Versions</div>
      <ul className="versions">
        {d.versions.map((v) => (
          <li key={v.version}>
            <button
              type="button"
              className="code"
              onClick={() => setVersion(v.version)}
              aria-current={v.version === d.family.version}
            >
              <b>{v.version}</b>
            </button>{' '}
            {v.madeBy}
            {v.madeAt ? `, ${when(v.madeAt)}` : ''}
            {v.inForce && <b> · in force</b>}
            {v.site && (v.approvedAt ? ` · approved ${v.approvedBy}, ${when(v.approvedAt)}` : ' · draft')}
            {v.reason && <div className="dim">{v.reason}</div>}
          </li>
        ))}
      </ul>
      {d.changes.length > 0 && <ChangeList changes={d.changes} title="Against the version before it" />}
      <div className="rule">
        Joints of this family<span className="r">{d.joints.length}</span>
      </div>
      <ul className="uses">
        {d.joints.map((j) => (
          <li key={j.tag}>
            <Link to="/joints/$tag" params={{ tag: j.tag }}>
              <b className="m">{j.tag}</b> {j.name}
            </Link>
          </li>
        ))}
      </ul>
    </div>
  );
}

/** What changed: the old struck through, the new beside it. */
export function ChangeList({ changes, title }: { changes: ProcedureDetail['changes']; title: string }) {
  return (
    <>
      <div className="rule">
        {title}
        <span className="r">{changes.length} changes</span>
      </div>
      <ul className="versions">
        {changes.map((c) => (
          <li key={c.path}>
            <span className="m">{c.path.replaceAll('.', ' › ')}</span>
            <div>
              {c.was ? <s>{c.was}</s> : <b>new:</b>} {c.is || <b>taken out</b>}
            </div>
          </li>
        ))}
      </ul>
    </>
  );
}

const doWord: Record<string, string> = {
  hand: 'by hand',
  torque: 'to torque, in stages',
  still: 'round until nothing moves',
  verify: 'once more, each ticked',
  turn: 'by a turn from its mark',
  turns: 'a turn on each in turn, until the torque',
  shape: 'until a shape is reached',
  effort: 'adjust and measure the effort',
  stretch: 'until the bolt is longer',
  leave: 'left as it is: no torque',
  undo: 'let go again',
};

const stopNames: Record<string, string> = { hand_over: 'hand over', loosen: 'taking apart' };

/** Where a caution is told, by what the place is called. */
const placeName = (f: Family) => (place: string) => {
  const [what, code] = place.split('/');
  if (what === 'check') return f.checks.find((c) => c.code === code)?.title.toLowerCase() ?? place;
  if (what === 'step') return f.work.find((w) => w.code === code)?.name ?? place;
  return stopNames[place] ?? place;
};

/** The answers of a condition, by what they are called. */
const whenName = (f: Family, when: Record<string, string[]>) =>
  Object.entries(when)
    .flatMap(([q, list]) =>
      list.map(
        (v) =>
          f.questions?.find((x) => x.code === q)?.options.find((o) => o.code === v)?.name ?? v.replaceAll('_', ' '),
      ),
    )
    .join(', ');

/** What the readings of a check are held against: a figure of the document, a limit of the house, or its own. */
function heldAgainst(f: Family, c: Family['checks'][number]): string {
  const figure = (code: string | undefined) => f.figures?.find((x) => x.code === code)?.name.toLowerCase();
  const from = [figure(c.lowFigure), figure(c.highFigure)].filter(Boolean);
  if (from.length) return `Held against the document: ${[...new Set(from)].join(', ')}`;
  if (c.limitKey) return 'Held against the document, or the house rules where it says nothing';
  return limitText(c);
}

/** A procedure read from top to bottom, in the order of the work. */
export function ProcedureView({ family: f }: { family: Family }) {
  const nameOf = (code: string) => f.fasteners.find((g) => g.code === code)?.name ?? code;
  const rows = (station: string) => f.rows.filter((g) => g.station === station);
  const checks = (group: string) => f.checks.filter((c) => c.row === group);
  const list = (station: string) =>
    rows(station).map((g) => (
      <div key={g.code}>
        <h3>{g.title}</h3>
        <ul className="steps">
          {checks(g.code).map((c) => (
            <li key={c.code}>
              <b>{c.title}</b> {c.hold && <span className="hld">hold{c.twoPerson ? ', two people' : ''}</span>} {c.ask}
              {c.kind === 'measure' && <span className="dim"> {heldAgainst(f, c)}.</span>}
              {c.expect && <span> Must be: {c.expect}</span>}
              {c.before && (
                <span className="dim"> Before {f.work.find((w) => w.code === c.before)?.name ?? c.before}.</span>
              )}
              {c.after && (
                <span className="dim"> After {f.work.find((w) => w.code === c.after)?.name ?? c.after}.</span>
              )}
              {c.when && <span className="dim"> Only for {whenName(f, c.when)}.</span>}
              <div className="dim">{c.why}</div>
            </li>
          ))}
        </ul>
      </div>
    ));
  return (
    <>
      <h1 className="title">{f.name}</h1>
      <p>{f.looks}</p>
      {(f.questions ?? []).map((q) => (
        <p key={q.code}>
          <b>{q.ask}</b> {q.options.map((o) => o.name).join(' · ')}
          {q.figure ? ` (by ${f.figures?.find((x) => x.code === q.figure)?.name.toLowerCase()})` : ''}{' '}
          <span className="dim">{q.why}</span>
        </p>
      ))}
      <div className="rule">Fasteners</div>
      <table className="t">
        <tbody>
          {f.fasteners.map((g) => (
            <tr key={g.code}>
              <td>
                <b>{g.name}</b>
                {g.face ? `, face ${g.face}` : ''}
              </td>
              <td>{g.target === 'none' ? 'must not be torqued' : `ends at ${g.target}`}</td>
              <td>
                {g.patterns.join(', ')}
                {Object.entries(g.refused ?? {}).map(([p, why]) => (
                  <div key={p} className="neg">
                    never {p}: {why}
                  </div>
                ))}
              </td>
              <td>
                {g.condition && <b>{g.condition}. </b>}
                {g.where}
                {g.targetWhy}
                {g.snug && <div className="dim">Snug: {g.snug}</div>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="rule">Ready: before the first pull</div>
      {list('ready')}
      <div className="rule">Tighten</div>
      <ol className="steps">
        {f.work.map((w) => (
          <li key={w.code}>
            <b>{w.groups.map(nameOf).join(', ')}</b>: {doWord[w.do] ?? w.do}
            {w.only && (w.only === 'cardinal' ? ', the four at right angles' : ', the rest')}
            {w.until && `. Until: ${w.until}`}
            {w.turnDeg ? ` ${w.turnDeg}°` : ''} {w.datum && <span>From: {w.datum}. </span>}
            {w.caution && <span className="neg">{w.caution} </span>}
            <span className="dim">{w.why}</span>
          </li>
        ))}
      </ol>
      {list('tighten')}
      <div className="rule">Prove</div>
      {list('prove')}
      <div className="rule">Hand over</div>
      {list('hand_over')}
      <div className="rule">Parts, supplies, tools</div>
      <p>
        {[...f.parts, ...(f.supplies ?? [])]
          .map((p) => `${p.name}${p.perBolt ? ' for each' : p.quantity > 1 ? ` × ${p.quantity}` : ''}`)
          .join(' · ')}
      </p>
      <p className="dim">{(f.tools ?? []).join(' · ')}</p>
      <div className="rule">Cautions and taking apart</div>
      <ul className="steps">
        {f.cautions.map((text) => {
          const [says, at] = text.split(' @ ');
          return (
            <li key={text}>
              {says} {at && <span className="dim">Told at: {at.split(', ').map(placeName(f)).join(', ')}.</span>}
            </li>
          );
        })}
      </ul>
      <p>{f.loosen.join(' ')}</p>
    </>
  );
}
