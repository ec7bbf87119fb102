import { Modal, Select, TextInput } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { api, type Doubt, must, useDoubts, usePeople } from '../../api/client';
import { day, when } from '../../kit/numbers';
import { ReasonDialog } from '../../kit/ReasonDialog';
import { useSheet } from '../../kit/sheet';

/** Joints tightened with a tool that was found out later: who looks at each, by when, and what came of it. */
export function Doubts({ keeper }: { keeper: boolean }) {
  const doubts = useDoubts();
  const qc = useQueryClient();
  const [closing, setClosing] = useState<Doubt>();
  const [planning, setPlanning] = useState<Doubt>();
  const changed = () => {
    void qc.invalidateQueries({ queryKey: ['tools'] });
    void qc.invalidateQueries({ queryKey: ['joint'] });
  };
  const list = doubts.data ?? [];
  const today = new Date().toISOString().slice(0, 10);
  return (
    <div className="crib-doubts">
      <h1 className="title">Joints to look at again</h1>
      <p className="dim">
        When a tool is put aside or fails its check, every joint it tightened since its last good evidence stands here
        until somebody has looked at it.
      </p>
      {list.length === 0 && !doubts.isPending && <p className="empty">No joint is in doubt.</p>}
      {list.length > 0 && (
        <table className="t">
          <thead>
            <tr>
              <th>Joint</th>
              <th>Tool and why</th>
              <th>Last pulled</th>
              <th>To be looked at</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {list.map((d) => (
              <tr key={d.id}>
                <td>
                  <Link to="/joints/$tag" params={{ tag: d.joint }}>
                    <b className="m">{d.joint}</b> {d.name}
                  </Link>
                </td>
                <td>
                  <b className="m">{d.tool}</b> {d.reason}
                </td>
                <td>{when(d.lastUsed)}</td>
                <td className={d.dueOn && d.dueOn < today ? 'hld' : ''}>
                  {d.dueOn ? `${d.assignedTo}, by ${day(d.dueOn)}${d.dueOn < today ? ': past' : ''}` : 'not planned'}
                </td>
                <td style={{ whiteSpace: 'nowrap' }}>
                  {keeper && (
                    <>
                      <button type="button" className="btn sm" onClick={() => setPlanning(d)}>
                        Plan
                      </button>{' '}
                      <button type="button" className="btn sm" onClick={() => setClosing(d)}>
                        Looked at
                      </button>
                    </>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <LookedAt
        id={closing?.id}
        onClose={() => setClosing(undefined)}
        onDone={() => {
          setClosing(undefined);
          changed();
        }}
      />
      <Modal
        opened={!!planning}
        onClose={() => setPlanning(undefined)}
        title={`Look at ${planning?.joint ?? ''} again`}
      >
        {planning && (
          <PlanForm
            d={planning}
            onDone={() => {
              setPlanning(undefined);
              changed();
            }}
          />
        )}
      </Modal>
    </div>
  );
}

/** Asks what was done at a joint in doubt; it is then out of doubt for that tool. */
export function LookedAt({ id, onClose, onDone }: { id: string | undefined; onClose: () => void; onDone: () => void }) {
  return (
    <ReasonDialog
      opened={id !== undefined}
      title="Looked at again"
      text="Say what was done. The joint is then out of doubt for this tool."
      choices={[
        'Restart torque of all bolts within the window',
        'Tightened anew with a good tool',
        'Another tool did the last pass',
      ]}
      verb="Out of doubt"
      onClose={onClose}
      onDone={async (reason) => {
        await must(api.POST('/doubts/{id}/close', { params: { path: { id: id ?? '' } }, body: { reason } }));
        onDone();
      }}
    />
  );
}

function PlanForm({ d, onDone }: { d: Doubt; onDone: () => void }) {
  const people = usePeople();
  const start = { dueOn: d.dueOn, assignedTo: d.assignedTo || null };
  const sheet = useSheet(start, async ({ dueOn, assignedTo }) => {
    const body = { dueOn, assignedTo: assignedTo ?? '' };
    await must(api.POST('/doubts/{id}/plan', { params: { path: { id: d.id } }, body }));
    onDone();
  });
  return (
    <form onSubmit={sheet.submit}>
      <Select label="Who looks" {...sheet.field('assignedTo')} data={(people.data ?? []).map((p) => p.name)} />
      <TextInput type="date" label="By" {...sheet.field('dueOn')} />
      {sheet.rest() && (
        <p className="wrong" role="alert">
          {sheet.rest()}
        </p>
      )}
      <button type="submit" className="btn now wide" style={{ marginTop: 12 }}>
        Plan it
      </button>
    </form>
  );
}
