import { Menu } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { useState } from 'react';
import type { LocalRun, RunStore } from '../../api/runStore';
import { useSession } from '../../api/session';
import { SignDialog, type SignRequest } from '../../kit/SignDialog';
import { PartDialog } from './PartDialog';

/** What can befall a joint at any stop: a part comes out, somebody stops it, it is given up. */
export function JointMenu({ run }: { run: LocalRun & { store: RunStore | undefined } }) {
  const { person } = useSession();
  const [part, openPart] = useDisclosure(false);
  const [signing, setSigning] = useState<SignRequest>();
  const { state: s, store, view } = run;
  if (!s || !store || !view || view.record || !person || s.verdict.code === 'turned_down') return null;
  const nameOf = (position: number) => s.fasteners[position - 1]?.name ?? String(position);
  return (
    <>
      <Menu position="bottom-end" withinPortal>
        <Menu.Target>
          <button type="button" className="btn more" aria-label="More about this joint">
            More
          </button>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item onClick={openPart.open}>A part was taken out or changed</Menu.Item>
          <Menu.Item
            color="red"
            onClick={() =>
              setSigning({
                title: 'Turn the joint down',
                text: 'The work ends with the joint not accepted, and its record says so. An inspector or engineer signs.',
                purpose: 'turned_down',
                needsReason: 'Why it is given up as it is',
              })
            }
          >
            Turn the joint down
          </Menu.Item>
        </Menu.Dropdown>
      </Menu>
      <PartDialog
        opened={part}
        plan={view.plan}
        gates={s.loosenGate ?? []}
        store={store}
        nameOf={nameOf}
        onClose={openPart.close}
      />
      <SignDialog runId={store.id} request={signing} onClose={() => setSigning(undefined)} />
    </>
  );
}
