import { Textarea } from '@mantine/core';
import type { ProcedureDetail } from '../../api/client';
import { PartsNav } from './PartsNav';
import { BoxField, Preview, YamlText } from './ProcedureParts';
import { useProcedureDraft } from './useProcedureDraft';

/** A site's own version while it is written: parts of it as a form, or all of it as YAML; how a sample joint would be led stands beside it. */
export function ProcedureEditor({
  detail,
  onClose,
  onKept,
}: {
  detail: ProcedureDetail;
  onClose: () => void;
  onKept: (code: string, version: number) => void;
}) {
  const draft = useProcedureDraft(detail, onKept);
  const { text, setText, spot, setSpot, past, undo, reason, setReason, wrong, setWrong, busy, trial, faults } = draft;
  const { base, chosen, boxes, put, change, move, remove, keep, faultOf } = draft;
  return (
    <div className="proc-edit">
      <div className="row-btns" style={{ marginTop: 0 }}>
        <h1 className="title" style={{ flex: 1 }}>
          {detail.family.name}: a version of the site’s own
        </h1>
        <button type="button" className="btn sm" disabled={past.length === 0 || text !== undefined} onClick={undo}>
          Undo
        </button>
        <label className="btn sm">
          Open a YAML file
          <input
            type="file"
            accept=".yaml,.yml,.json,application/yaml"
            className="sr"
            onChange={(e) => {
              void e.target.files?.[0]?.text().then(setText);
              e.target.value = '';
            }}
          />
        </label>
        <button
          type="button"
          className="btn sm"
          aria-pressed={text !== undefined}
          onClick={() => {
            if (text === undefined) setText(trial.data?.yaml || detail.yaml);
            else if (faults.length === 0 && trial.data?.family) {
              put(trial.data.family);
              setText(undefined);
            } else setWrong('Put the faults right first, then go back to the form.');
          }}
        >
          {text === undefined ? 'Write it as YAML' : 'Back to the form'}
        </button>
        <button type="button" className="btn sm" onClick={onClose}>
          Leave
        </button>
      </div>
      <div className="proc-cols">
        {text !== undefined ? (
          <section className="yaml">
            <YamlText text={text} faults={faults} onChange={setText} />
          </section>
        ) : (
          <>
            <PartsNav draft={draft} />
            <section>
              {chosen && (
                <>
                  {spot.list !== 'general' && (
                    <div className="row-btns" style={{ marginTop: 0 }}>
                      <span className="m dim">{spot.code}</span>
                      <button type="button" className="btn sm" onClick={() => move(-1)}>
                        Earlier
                      </button>
                      <button type="button" className="btn sm" onClick={() => move(1)}>
                        Later
                      </button>
                      {spot.list !== 'fasteners' && (
                        <button type="button" className="btn sm" onClick={remove}>
                          Take out
                        </button>
                      )}
                    </div>
                  )}
                  <div className="fields">
                    {boxes
                      .filter((b) => !b.only || b.only(chosen))
                      .map((b) => (
                        <BoxField
                          key={`${base}.${b.key}`}
                          box={b}
                          value={chosen[b.key]}
                          fault={faultOf(b.key)}
                          onChange={(v) => change(b.key, v)}
                        />
                      ))}
                  </div>
                </>
              )}
            </section>
          </>
        )}
        <section className="preview">
          {faults.length > 0 && (
            <div className="finding stop" role="alert">
              <b>
                {faults.length === 1
                  ? 'One thing keeps it from being used'
                  : `${faults.length} things keep it from being used`}
              </b>
              {faults.slice(0, 8).map((x) => (
                <div key={x.path + x.what}>
                  {text !== undefined && x.line ? `Line ${x.line}: ` : ''}
                  <button
                    type="button"
                    className="code"
                    onClick={() => {
                      const [list, c] = x.path.split(/[.[]/);
                      if (text === undefined && c && (list === 'checks' || list === 'work' || list === 'fasteners'))
                        setSpot({ list, code: c });
                    }}
                  >
                    {x.path.replaceAll('.', ' › ')}
                  </button>{' '}
                  {x.what}. {x.remedy}
                </div>
              ))}
            </div>
          )}
          <Preview plan={trial.data?.plan} changes={trial.data?.changes ?? []} />
          <Textarea
            label="What changed, and why"
            value={reason}
            onChange={(e) => setReason(e.currentTarget.value)}
            autosize
            minRows={2}
            maxLength={500}
            my={10}
          />
          {wrong && (
            <p className="wrong" role="alert">
              {wrong}
            </p>
          )}
          <button
            type="button"
            className="btn now wide"
            disabled={busy || faults.length > 0 || !reason.trim()}
            onClick={() => void keep()}
          >
            {draft.own === detail.family.code ? 'Keep as a draft' : `Keep as a new family, ${trial.data?.family?.name}`}
          </button>
          <p className="dim">An engineer approves it before work is planned by it.</p>
        </section>
      </div>
    </div>
  );
}
