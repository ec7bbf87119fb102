import { Modal, Select, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, must } from '../../api/client';
import { Figure } from '../../kit/Figure';
import { ask, type LabRefusal, type LabSetup } from './ask';

const figures = [
  ['targetKn', 'Force of each bolt, kN'],
  ['yieldKn', 'Bolt yields at, kN'],
  ['needMpa', 'Gasket needs, MPa'],
  ['gasketMm', 'Gasket thickness, mm'],
  ['boltCircleMm', 'Bolt circle, mm'],
  ['boreMm', 'Bore, mm'],
  ['outsideMm', 'Outside diameter, mm'],
  ['thicknessMm', 'Thickness of the ring, mm'],
  ['hubMm', 'Wall of the pipe, mm'],
  ['frictionPct', 'Friction spreads, %'],
  ['toolPct', 'Tool spreads, %'],
  ['curvePct', 'Gasket curve spreads, %'],
] as const;

/** The joint: one of the register, or made up on the spot. What is left empty is estimated, and said so. */
export function JointDialog({
  setup,
  onBack,
  onTag,
  onDone,
}: {
  setup: LabSetup;
  onBack: () => void;
  onTag: (tag: string) => void;
  onDone: (s: LabSetup) => void;
}) {
  const [x, setX] = useState(setup);
  const [find, setFind] = useState('');
  const [wrong, setWrong] = useState<LabRefusal>();
  const joints = useQuery({
    queryKey: ['joints', 'lab', find],
    queryFn: () => must(api.GET('/joints', { params: { query: { q: find, limit: 30 } } })),
  });
  const error = (field: string) => (wrong?.field === field ? wrong.message : undefined);
  return (
    <Modal opened onClose={onBack} title="The joint" size="lg">
      <Select
        label="Of the register"
        placeholder="tag or name"
        searchable
        value={null}
        searchValue={find}
        onSearchChange={setFind}
        filter={({ options }) => options}
        data={(joints.data?.rows ?? []).map((j) => ({ value: j.tag, label: `${j.tag} ${j.name}, ${j.make}` }))}
        onChange={(tag) => tag && onTag(tag)}
        nothingFoundMessage="No joint like that."
      />
      <form
        className="lab-form"
        onSubmit={(e) => {
          e.preventDefault();
          ask('of', { setup: x })
            .then(() => onDone({ ...x, tag: '', name: '' }))
            .catch((err) => setWrong(err as LabRefusal));
        }}
      >
        <p className="dim">Or made up on the spot. What is left empty is estimated.</p>
        <Figure
          label="Bolts"
          value={x.bolts || ''}
          onChange={(v) => setX((old) => ({ ...old, bolts: Math.round(v || 0) }))}
          error={error('bolts')}
        />
        <TextInput
          label="Thread"
          value={x.thread}
          onChange={(e) => {
            const thread = e.currentTarget.value;
            setX((old) => ({ ...old, thread }));
          }}
          error={error('thread')}
        />
        <Select
          label="Gasket"
          value={x.gasket}
          allowDeselect={false}
          data={[
            { value: 'sheet', label: 'compressed-fibre sheet' },
            { value: 'spiral', label: 'spiral-wound' },
            { value: 'ring', label: 'metal ring' },
          ]}
          onChange={(gasket) => gasket && setX((old) => ({ ...old, gasket, gasketMm: 0 }))}
          error={error('gasket')}
        />
        {figures.map(([key, label]) => (
          <Figure
            key={key}
            label={label}
            value={x[key] || ''}
            onChange={(v) => setX((old) => ({ ...old, [key]: v || 0 }))}
            error={error(key)}
          />
        ))}
        {wrong && (
          <p className="wrong" role="alert">
            {wrong.message}
          </p>
        )}
        <div className="row-btns">
          <button type="submit" className="btn now">
            Use this joint
          </button>
          <button type="button" className="btn" onClick={onBack}>
            Leave it
          </button>
        </div>
      </form>
    </Modal>
  );
}
