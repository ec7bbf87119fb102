import { Modal, Textarea } from '@mantine/core';
import { useState } from 'react';
import type { Plan } from '../../api/client';

interface ApproveProps {
  opened: boolean;
  onClose: () => void;
  plan: Plan | undefined;
  busy: boolean;
  wrong: string;
  engineer: boolean;
  onDone: (reason: string) => void;
}

/** What departs from the document or the house rules, and the engineer who answers for it. */
export function ApprovePlan({ opened, onClose, plan, busy, wrong, engineer, onDone }: ApproveProps) {
  const [reason, setReason] = useState('');
  return (
    <Modal opened={opened} onClose={onClose} title="Approve this plan">
      {plan?.needsApproval.map((t) => (
        <p key={t} style={{ fontSize: 17 }}>
          {t}
        </p>
      ))}
      {engineer ? (
        <>
          <Textarea
            label="Why this is right for this joint"
            value={reason}
            onChange={(e) => setReason(e.currentTarget.value)}
            my={10}
            autosize
            minRows={2}
            maxLength={500}
            data-autofocus
          />
          {wrong && <p className="wrong">{wrong}</p>}
          <button
            type="button"
            className="btn now wide"
            disabled={busy || !reason.trim()}
            onClick={() => onDone(reason)}
          >
            Approve
          </button>
        </>
      ) : (
        <p className="finding stop">
          <b>An engineer must approve this plan.</b> Change hands to an engineer at the top right, or go back to the
          planned lubricant.
        </p>
      )}
    </Modal>
  );
}
