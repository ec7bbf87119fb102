import { Menu } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { useQueryClient } from '@tanstack/react-query';
import { useNavigate } from '@tanstack/react-router';
import { useState } from 'react';
import { api, type JointDetail, jointChanged, must } from '../../api/client';
import type { LocalRun, RunStore } from '../../api/runStore';
import { useSession } from '../../api/session';
import { ReasonDialog } from '../../kit/ReasonDialog';
import { SignDialog, type SignRequest } from '../../kit/SignDialog';
import { HistoryDialog } from './HistoryDialog';
import { PartDialog } from './PartDialog';
import { PlaceDialog } from './PlaceDialog';
import { TakeApart } from './TakeApart';

/** What can befall a joint at any stop: a part comes out, it is given up; and where it belongs. */
export function JointMenu({
  run,
  joint,
}: {
  run: LocalRun & { store: RunStore | undefined };
  joint: JointDetail | undefined;
}) {
  const { person, may } = useSession();
  const qc = useQueryClient();
  const [part, openPart] = useDisclosure(false);
  const [apart, openApart] = useDisclosure(false);
  const [place, openPlace] = useDisclosure(false);
  const [history, openHistory] = useDisclosure(false);
  const [service, openService] = useDisclosure(false);
  const [signing, setSigning] = useState<SignRequest>();
  const navigate = useNavigate();
  const { state: s, store, view } = run;
  const open = !!s && !!store && !!view && !view.record && s.verdict.code !== 'turned_down';
  const moves = !!joint && may('editJoint');
  const retired = !!joint?.retired;
  if (!person || (!open && !joint)) return null;
  return (
    <>
      <Menu position="bottom-end" withinPortal>
        <Menu.Target>
          <button type="button" className="btn more" aria-label="More about this joint">
            More
          </button>
        </Menu.Target>
        <Menu.Dropdown>
          {moves && !retired && <Menu.Item onClick={openPlace.open}>Name, place, package</Menu.Item>}
          {joint && (
            <Menu.Item onClick={() => void navigate({ to: '/joints/$tag/life', params: { tag: joint.joint.tag } })}>
              Its life
            </Menu.Item>
          )}
          {joint && !retired && may('putPressureTest') && (
            <Menu.Item onClick={() => void navigate({ to: '/joints/tests/new', search: { joint: joint.joint.tag } })}>
              Test it under pressure
            </Menu.Item>
          )}
          {joint && <Menu.Item onClick={openHistory.open}>What was changed</Menu.Item>}
          {joint && may('retireJoint') && !open && (
            <Menu.Item onClick={openService.open}>{retired ? 'Put it back into service' : 'Retire it'}</Menu.Item>
          )}
          {joint && !retired && may('startRun') && view?.plan.way !== 'apart' && (
            <Menu.Item onClick={openApart.open}>Take it apart</Menu.Item>
          )}
          {joint && !retired && may('startRun') && view?.plan.way === 'apart' && view.record && (
            <Menu.Item onClick={openApart.open}>Take it apart again</Menu.Item>
          )}
          {open && view.plan.way !== 'apart' && (
            <Menu.Item onClick={openPart.open}>A part was taken out or changed</Menu.Item>
          )}
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
      {apart && joint && <TakeApart opened tag={joint.joint.tag} run={run} onClose={openApart.close} />}
      {history && joint && <HistoryDialog tag={joint.joint.tag} onClose={openHistory.close} />}
      {joint && (
        <ReasonDialog
          opened={service}
          title={retired ? `Put ${joint.joint.tag} back into service` : `Retire ${joint.joint.tag}`}
          text={
            retired
              ? 'It stands in the lists again, as it stood before.'
              : 'Nothing is planned or begun on it any more, and lists and packages leave it out. Its records stay, and it can come back.'
          }
          verb={retired ? 'Put it back' : 'Retire it'}
          onClose={openService.close}
          onDone={async (reason) => {
            const tag = joint.joint.tag;
            await must(
              api.POST(retired ? '/joints/{tag}/restore' : '/joints/{tag}/retire', {
                params: { path: { tag } },
                body: { reason },
              }),
            );
            jointChanged(qc, tag);
          }}
        />
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
