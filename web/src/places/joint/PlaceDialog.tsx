import { Autocomplete, Modal, TextInput } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { api, type JointRow, jointChanged, must, usePackages, useSite } from '../../api/client';
import { useSheet } from '../../kit/sheet';

/** What a joint is called, where it is and on which package; every change stands in the trail. */
export function PlaceDialog({
  opened,
  joint,
  nameplate,
  onClose,
}: {
  opened: boolean;
  joint: JointRow;
  nameplate: string;
  onClose: () => void;
}) {
  const qc = useQueryClient();
  const site = useSite();
  const packages = usePackages();
  const { name, area, equipment, service } = joint;
  const start = { name, area, equipment, service, package: joint.package, nameplate };
  const sheet = useSheet(start, async (body) => {
    await must(api.PUT('/joints/{tag}', { params: { path: { tag: joint.tag } }, body }));
    jointChanged(qc, joint.tag);
    onClose();
  });
  return (
    <Modal opened={opened} onClose={onClose} title={`${joint.tag}: name, place, package`}>
      <form onSubmit={sheet.submit} style={{ display: 'grid', gap: 10 }}>
        <TextInput label="Name" {...sheet.field('name')} data-autofocus />
        <Autocomplete label="Area" {...sheet.field('area')} data={site.data?.areas.map((a) => a.name) ?? []} />
        <TextInput label="Equipment" {...sheet.field('equipment')} />
        <TextInput label="Service" {...sheet.field('service')} />
        <Autocomplete
          label="Work package"
          {...sheet.field('package')}
          data={(packages.data ?? []).map((p) => p.code)}
        />
        <TextInput label="Nameplate, type and size" {...sheet.field('nameplate')} />
        {sheet.rest() && (
          <p className="wrong" role="alert">
            {sheet.rest()}
          </p>
        )}
        <button type="submit" className="btn now wide" disabled={sheet.busy}>
          Keep it
        </button>
      </form>
    </Modal>
  );
}
