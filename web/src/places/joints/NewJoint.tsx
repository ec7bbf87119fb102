import { Autocomplete, TextInput } from '@mantine/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from '@tanstack/react-router';
import { useState } from 'react';
import { api, jointChanged, must, type Specification, usePackages, useProcedure } from '../../api/client';
import { useSheet } from '../../kit/sheet';
import { FamilyPicture } from '../../pictures/FamilyPicture';
import { FamilyCards } from './FamilyCards';
import { OneFlange } from './OneFlange';
import { emptySpecification, SpecificationForm } from './SpecificationForm';
import './joints.css';

/** A single joint, with or without a work package; or a copy of one that exists. */
export function NewJointPage() {
  const navigate = useNavigate();
  const qc = useQueryClient();
  const packages = usePackages();
  const place = useSheet(
    { tag: '', name: '', area: '', equipment: '', service: '', package: '', nameplate: '' },
    () => undefined, // it is sent with its specification
  );
  const [from, setFrom] = useState('');
  const [start, setStart] = useState<Specification>(emptySpecification);
  const [copied, setCopied] = useState('');
  const [family, setFamily] = useState('');
  const procedure = useProcedure(family || undefined);
  const joints = useQuery({
    queryKey: ['joints', 'copy', from],
    queryFn: () => must(api.GET('/joints', { params: { query: { q: from, limit: 8 } } })),
  });
  async function copy(tag: string) {
    setFrom(tag);
    try {
      const d = await must(api.GET('/joints/{tag}', { params: { path: { tag } } }));
      const spec = d.versions[0]?.specification;
      if (!spec) return;
      setStart(spec);
      setFamily(d.joint.family);
      setCopied(tag);
      place.put({
        name: d.joint.name,
        area: d.joint.area,
        equipment: d.joint.equipment,
        service: d.joint.service,
        package: d.joint.package,
      });
    } catch (e) {
      place.refused(e);
    }
  }
  return (
    <div className="page">
      <h1 className="title">New joint</h1>
      {!family && (
        <>
          <div className="rule" style={{ marginTop: 8 }}>
            One flange by hand
          </div>
          <OneFlange />
          <div className="rule" style={{ marginTop: 18 }}>
            Or any other joint
          </div>
        </>
      )}
      <p className="dim" style={{ marginBottom: 10 }}>
        For one-off work leave the package empty; it can be put on a package later.
      </p>
      <div className="fields">
        <Autocomplete
          label="Begin with a copy of"
          placeholder="a tag"
          value={from}
          onChange={setFrom}
          onOptionSubmit={(v) => void copy(v)}
          data={(joints.data?.rows ?? []).map((j) => j.tag)}
          description={
            copied ? `copied from ${copied}: specification only, no readings` : 'no readings or signatures are copied'
          }
        />
      </div>
      <div className="rule" style={{ marginTop: 12 }}>
        What kind of joint
        {procedure.data && (
          <span className="r">
            <button type="button" className="btn plain sm" onClick={() => setFamily('')}>
              {procedure.data.family.name}: choose another
            </button>
          </span>
        )}
      </div>
      {!family && <FamilyCards onChoose={setFamily} />}
      {procedure.data && (
        <p className="until">
          <b>{procedure.data.family.name}.</b> {procedure.data.family.looks}
        </p>
      )}
      {procedure.data && <FamilyPicture family={procedure.data.family.code} />}
      {family && procedure.data && (
        <>
          <div className="rule" style={{ marginTop: 12 }}>
            Where it is
          </div>
          <div className="fields" style={{ margin: '6px 0 12px' }}>
            <TextInput
              label="Tag"
              {...place.field('tag')}
              onChange={(e) => place.put({ tag: e.currentTarget.value.trim() })}
              data-autofocus
            />
            <TextInput label="Name" {...place.field('name')} />
            <Autocomplete label="Area" {...place.field('area')} data={joints.data?.areas ?? []} />
            <TextInput label="Equipment" {...place.field('equipment')} />
            <TextInput label="Service" placeholder="seawater" {...place.field('service')} />
            <Autocomplete
              label="Work package"
              {...place.field('package')}
              data={(packages.data ?? []).map((p) => p.code)}
            />
            <TextInput label="Nameplate, type and size" {...place.field('nameplate')} />
          </div>
          <SpecificationForm
            key={`${copied} ${family}`}
            start={start}
            family={procedure.data.family}
            verb="Keep the joint"
            onDone={async (specification) => {
              try {
                const d = await must(api.POST('/joints', { body: { ...place.values, family, specification } }));
                jointChanged(qc, d.joint.tag);
                void navigate({ to: '/joints/$tag', params: { tag: d.joint.tag } });
              } catch (e) {
                place.refused(e);
                throw e;
              }
            }}
          />
        </>
      )}
    </div>
  );
}
