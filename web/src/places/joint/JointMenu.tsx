import { Menu } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { useState } from 'react';
import type { JointDetail } from '../../api/client';
import type { LocalRun, RunStore } from '../../api/runStore';
import { useSession } from '../../api/session';
import { SignDialog, type SignRequest } from '../../kit/SignDialog';
import { PartDialog } from './PartDialog';
import { PlaceDialog } from './PlaceDialog';

/** What can befall a joint at any stop: a part comes out, it is given up; and where it belongs. */
export function JointMenu({
  run,
  joint,
}: {
  run: LocalRun & { store: RunStore | undefined };
  joint: JointDetail | undefined;
}) {
  const { person, may } = useSession();
  const [part, openPart] = useDisclosure(false);
  const [place, openPlace] = useDisclosure(false);
  const [signing, setSigning] = useState<SignRequest>();
  const { state: s, store, view } = run;
  const open = !!s && !!store && !!view && !view.record && s.verdict.code !== 'turned_down';
  const moves = !!joint && may('editJoint');
  if (!person || (!open && !moves)) return null;
  return (
    <>
      <Menu position="bottom-end" withinPortal>
        <Menu.Target>
          <button type="button" className="btn more" aria-label="More about this joint">
            More
          </button>
        </Menu.Target>
        <Menu.Dropdown>
          {moves && <Menu.Item onClick={openPlace.open}>Name, place, package</Menu.Item>}
          {open && <Menu.Item onClick={openPart.open}>A part was taken out or changed</Menu.Item>}
          {open && (
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
          )}
        </Menu.Dropdown>
      </Menu>
      {place && joint && (
        <PlaceDialog opened joint={joint.joint} nameplate={joint.nameplate} onClose={openPlace.close} />
      )}
      {open && (
        <>
          <PartDialog
            opened={part}
            plan={view.plan}
            gates={s.loosenGate ?? []}
            store={store}
            nameOf={(position) => s.fasteners[position - 1]?.name ?? String(position)}
            onClose={openPart.close}
          />
          <SignDialog runId={store.id} request={signing} onClose={() => setSigning(undefined)} />
        </>
      )}
    </>
  );
}
