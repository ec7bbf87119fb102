import { Modal, Textarea } from '@mantine/core';
import { useState } from 'react';
import { api, must, type Person, type RunView } from '../api/client';
import { flush, runStore } from '../api/outbox';
import { NameAndPIN } from '../app/signin';
import { answerGiven } from './question';

export interface SignRequest {
  title: string;
  text: string;
  purpose: string;
  check?: string;
  ref?: string;
  pass?: number;
  needsReason?: string; // asks for a reason with this label
  only?: (p: Person) => boolean;
}

/** A signature by name and PIN, given on whatever device is at the joint. */
export function SignDialog({ runId, request, onClose }: { runId: string; request: SignRequest | undefined; onClose: () => void }) {
  const [reason, setReason] = useState('');
  if (!request) return null;
  const { title, text, needsReason, only, ...rest } = request;
  return (
    <Modal opened onClose={onClose} title={title} size="lg">
      <p style={{ fontSize: 17 }}>{text}</p>
      {needsReason && (
        <Textarea
          label={needsReason}
          value={reason}
          onChange={(e) => setReason(e.currentTarget.value)}
          autosize
          minRows={2}
          mt={10}
          maxLength={500}
        />
      )}
      <NameAndPIN
        verb="Sign"
        {...(only ? { only } : {})}
        act={async (p, pin) => {
          await flush(); // what is signed must be there first
          const view: RunView = await must(
            api.POST('/runs/{id}/signatures', {
              params: { path: { id: runId } },
              body: {
                personId: p.id,
                pin,
                purpose: rest.purpose,
                check: rest.check ?? '',
                ref: rest.ref ?? '',
                pass: rest.pass ?? 0,
                reason,
              },
            }),
          );
          answerGiven();
          await runStore(runId).put(view);
        }}
        onDone={() => {
          setReason('');
          onClose();
        }}
      />
    </Modal>
  );
}
