import { useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { api, jointChanged, must } from '../../api/client';
import { outbox } from '../../api/device';
import type { LocalRun, RunStore } from '../../api/runStore';
import { ReasonDialog } from '../../kit/ReasonDialog';
import { SignDialog, type SignRequest } from '../../kit/SignDialog';

/** Begins to take a joint apart. What is under way is ended first: it is turned down, and its record sealed. */
export function TakeApart({
  opened,
  tag,
  run,
  onClose,
}: {
  opened: boolean;
  tag: string;
  run: LocalRun & { store: RunStore | undefined };
  onClose: () => void;
}) {
  const qc = useQueryClient();
  const [signing, setSigning] = useState<SignRequest>();
  const goesOn = useRef(false); // the reason was given: the dialog closes for the signature, not for good
  const { state: s, store, view } = run;
  const open = !!s && !!store && !!view && !view.record;
  const down = s?.verdict.code === 'turned_down';
  const closed = open && (down || s.openItems.length === 0);

  async function begin(why: string) {
    if (open) {
      await outbox.wake();
      await must(api.POST('/runs/{id}/seal', { params: { path: { id: view.id } } }));
    }
    await must(
      api.POST('/joints/{tag}/runs', {
        params: { path: { tag } },
        body: { choices: {}, reason: '', again: why, way: 'apart' },
      }),
    );
    jointChanged(qc, tag);
  }

  return (
    <>
      <ReasonDialog
        opened={opened && (!open || closed)}
        title={`Take ${tag} apart`}
        text={
          <>
            <p>
              It is made safe first, then let go in rounds, a little all round each time. It gets a record of its own;
              what is sealed stays as it is.
            </p>
            {open && (
              <p className="hld">
                What was done so far is sealed as {down ? 'turned down' : 'it stands'} before the first fastener is let
                go.
              </p>
            )}
          </>
        }
        choices={['It leaks', 'A part is changed', 'To be looked at inside', 'Removed for good']}
        verb="Make it safe, then let go"
        onClose={onClose}
        onDone={begin}
      />
      {opened && open && !closed && !signing && (
        <ReasonDialog
          opened
          title={`${tag} is under way`}
          text="The work ends here with the joint not accepted, and its record says so: an inspector or engineer turns it down. Then it is taken apart."
          verb="Let them sign"
          label="Why it is given up and taken apart"
          onClose={() => {
            if (!goesOn.current) onClose();
            goesOn.current = false;
          }}
          onDone={(why) => {
            goesOn.current = true;
            setSigning({ title: 'Turn the joint down', text: why, purpose: 'turned_down', reason: why });
          }}
        />
      )}
      {store && opened && (
        <SignDialog
          runId={store.id}
          request={signing}
          onClose={() => {
            setSigning(undefined);
          }}
        />
      )}
    </>
  );
}
