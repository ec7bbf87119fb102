import { Modal } from '@mantine/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, type ImportedRow, must, type UndoResult } from '../../api/client';
import { when } from '../../kit/numbers';

const undone: Record<string, string> = { retired: 'is retired', back: 'is put back', left: 'stays as it is' };

/** Earlier imports of the register; each can be taken back, after a look at what that does to each joint. */
export function EarlierImports() {
  const list = useQuery({ queryKey: ['imports'], queryFn: () => must(api.GET('/imports')) });
  const [chosen, setChosen] = useState<ImportedRow>();
  if (!list.data?.length) return null;
  return (
    <section style={{ marginTop: 26 }}>
      <div className="rule">Earlier imports</div>
      <table className="t">
        <thead>
          <tr>
            <th>When</th>
            <th>By</th>
            <th className="n">New</th>
            <th className="n">Changed</th>
            <th aria-label="Undo" />
          </tr>
        </thead>
        <tbody>
          {list.data.map((r) => (
            <tr key={r.id}>
              <td className="m">{when(r.madeAt)}</td>
              <td>{r.madeBy}</td>
              <td className="n">{r.added}</td>
              <td className="n">{r.changed}</td>
              <td style={{ textAlign: 'right' }}>
                {r.undoneBy ? (
                  <span className="dim">undone by {r.undoneBy}</span>
                ) : (
                  <button type="button" className="btn sm" onClick={() => setChosen(r)}>
                    Undo it
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {chosen && <UndoDialog of={chosen} onClose={() => setChosen(undefined)} />}
    </section>
  );
}

function UndoDialog({ of, onClose }: { of: ImportedRow; onClose: () => void }) {
  const qc = useQueryClient();
  const [done, setDone] = useState<UndoResult>();
  const [wrong, setWrong] = useState('');
  const [busy, setBusy] = useState(false);
  const undo = (apply: boolean) =>
    must(api.POST('/imports/{id}/undo', { params: { path: { id: of.id }, query: { apply } } }));
  const preview = useQuery({ queryKey: ['imports', of.id, 'undo'], queryFn: () => undo(false), gcTime: 0 });
  const res = done ?? preview.data;
  const problem = wrong || (preview.error as Error | null)?.message;
  const apply = () => {
    setBusy(true);
    undo(true)
      .then(
        async (r) => {
          setDone(r);
          await qc.invalidateQueries({ predicate: (q) => q.queryKey[2] !== 'undo' });
        },
        (e: Error) => setWrong(e.message),
      )
      .finally(() => setBusy(false));
  };
  return (
    <Modal opened onClose={onClose} title={`Undo the import of ${when(of.madeAt)}`} size="lg">
      {problem && (
        <p className="wrong" role="alert">
          {problem}
        </p>
      )}
      {res && (
        <>
          <p role="status" style={{ fontSize: 17, marginBottom: 8 }}>
            {done ? 'Done: ' : 'Would be: '}
            {res.retired} retired, {res.back} put back, {res.left} left as {res.left === 1 ? 'it is' : 'they are'}.
          </p>
          {!done && (
            <button
              type="button"
              className="btn now wide"
              disabled={busy || res.retired + res.back === 0}
              onClick={apply}
              style={{ marginBottom: 10 }}
            >
              Undo it for {res.retired + res.back} {res.retired + res.back === 1 ? 'joint' : 'joints'}
            </button>
          )}
          <table className="t">
            <thead>
              <tr>
                <th>Tag</th>
                <th>Name</th>
                <th>Does</th>
                <th>What</th>
              </tr>
            </thead>
            <tbody>
              {res.lines.map((l) => (
                <tr key={l.tag}>
                  <td className="m">{l.tag}</td>
                  <td>{l.name}</td>
                  <td>
                    <b>{undone[l.does]}</b>
                  </td>
                  <td>{l.what}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
    </Modal>
  );
}
