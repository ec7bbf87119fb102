import { useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { api, must, type ProcedureDetail, useFamilies, useProcedure } from '../../api/client';
import { useSession } from '../../api/session';
import { when } from '../../kit/numbers';
import { FamilyMark } from '../joints/FamilyCards';
import { ProcedureEditor } from './ProcedureEditor';
import { ProcedureView } from './ProcedureView';
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
