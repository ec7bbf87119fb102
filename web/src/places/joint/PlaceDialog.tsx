import { Autocomplete, Modal, TextInput } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, type JointRow, jointChanged, must, Refused, usePackages, useSite } from '../../api/client';

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
  const [v, setV] = useState({ ...joint, nameplate });
  const [wrong, setWrong] = useState<Error>();
  const put = (change: Partial<typeof v>) => setV((was) => ({ ...was, ...change }));
  const save = () =>
    must(
      api.PUT('/joints/{tag}', {
        params: { path: { tag: joint.tag } },
        body: {
          name: v.name,
          area: v.area,
          equipment: v.equipment,
          service: v.service,
          package: v.package,
          nameplate: v.nameplate,
        },
      }),
    ).then(
      () => {
        jointChanged(qc, joint.tag);
        onClose();
      },
      (e: Error) => setWrong(e),
    );
  return (
    <Modal opened={opened} onClose={onClose} title={`${joint.tag}: name, place, package`}>
      <div style={{ display: 'grid', gap: 10 }}>
        <TextInput label="Name" value={v.name} onChange={(e) => put({ name: e.currentTarget.value })} data-autofocus />
        <Autocomplete
          label="Area"
          value={v.area}
          onChange={(area) => put({ area })}
          data={site.data?.areas.map((a) => a.name) ?? []}
          error={wrong instanceof Refused && wrong.field === 'area' ? wrong.message : undefined}
        />
        <TextInput label="Equipment" value={v.equipment} onChange={(e) => put({ equipment: e.currentTarget.value })} />
        <TextInput label="Service" value={v.service} onChange={(e) => put({ service: e.currentTarget.value })} />
        <Autocomplete
          label="Work package"
          value={v.package}
          onChange={(code) => put({ package: code })}
          data={(packages.data ?? []).map((p) => p.code)}
        />
        <TextInput
          label="Nameplate, type and size"
          value={v.nameplate}
          onChange={(e) => put({ nameplate: e.currentTarget.value })}
        />
        {wrong && !(wrong instanceof Refused && wrong.field === 'area') && (
          <p className="wrong" role="alert">
            {wrong.message}
          </p>
        )}
        <button type="button" className="btn now wide" onClick={() => void save()}>
          Keep it
        </button>
      </div>
    </Modal>
  );
}
