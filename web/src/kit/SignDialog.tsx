import { Modal, Textarea } from '@mantine/core';
import { useState } from 'react';
import { v7 as uuidv7 } from 'uuid';
import { api, must, Refused, type RunView, type Signable } from '../api/client';
import { outbox, runStore } from '../api/device';
import { NameAndPIN } from '../app/signin';
import { answerGiven } from './question';

export interface SignRequest {
  title: string;
  text: string;
  purpose: Signable['purpose'];
  check?: string;
  ref?: string;
  also?: string[]; // more of the same kind: each gets a signature of its own
  pass?: number;
  needsReason?: string; // asks for a reason with this label
  reason?: string; // or the reason that was given already
}

/** A signature by name and PIN, given on whatever device is at the joint. */
export function SignDialog({
  runId,
  request,
  onClose,
}: {
  runId: string;
  request: SignRequest | undefined;
  onClose: () => void;
}) {
  const [reason, setReason] = useState('');
  const [given, setGiven] = useState<{ id: string; words: string }>();
  const [signed, setSigned] = useState<string[]>([]); // of several, those that are kept already
  if (!request) return null;
  const { title, text, needsReason, reason: said, also = [], ...rest } = request;
  const why = said ?? reason;
  async function sign(personId: string, pin: string, ref: string | undefined) {
    // The same signature tried again, because its answer was lost, keeps its identifier; another one gets its own.
    const head = await runStore(runId).head();
    const words = [personId, head, rest.purpose, rest.check, ref, rest.pass, why].join('\n');
    const id = given?.words === words ? given.id : uuidv7();
    setGiven({ id, words });
    const view: RunView = await must(
      api.POST('/runs/{id}/signatures', {
        params: { path: { id: runId } },
        body: {
          id,
          head,
          personId,
          pin,
          purpose: rest.purpose,
          check: rest.check ?? '',
          ref: ref ?? '',
          pass: rest.pass ?? 0,
          reason: why,
        },
      }),
    ).catch(async (e: Error) => {
      if (e instanceof Refused) await runStore(runId).refresh(); // something may have been added since
      throw e;
    });
    await runStore(runId).put(view);
  }
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
        only={(people) => runStore(runId).maySign(people, rest)}
        nobody="Nobody here may sign this as the work stands."
        act={async (p, pin) => {
          await outbox.wake(); // what is signed must be there first
          for (const ref of [rest.ref, ...also]) {
            if (ref && signed.includes(ref)) continue;
            await sign(p.id, pin, ref);
            if (ref) setSigned((old) => [...old, ref]);
          }
          answerGiven();
        }}
        onDone={() => {
          setReason('');
          setSigned([]);
          onClose();
        }}
      />
    </Modal>
  );
}
