import { Modal, SegmentedControl, Select } from '@mantine/core';
import { useState } from 'react';
import type { Plan, RunEvent } from '../../api/client';
import type { RunStore } from '../../api/runStore';
import { useSession } from '../../api/session';
import { wholeOf } from '../../kit/numbers';
import { ReasonFields } from '../../kit/ReasonDialog';
import { AskedAgain } from './AskedAgain';
import { MadeSure } from './MadeSure';

const lubricant = { code: 'lubricant', name: 'Lubricant', perBolt: false, once: false, fasteners: '' };

/** A part was taken out or changed: which, of which fastener, and what goes in; what that asks for again is told first. */
export function PartDialog({
  opened,
  plan,
  gates,
  store,
  nameOf,
  onClose,
}: {
  opened: boolean;
  plan: Plan;
  gates: string[]; // to be made sure of first
  store: RunStore;
  nameOf: (position: number) => string;
  onClose: () => void;
}) {
  const { person } = useSession();
  const [code, setCode] = useState<string | null>(null);
  const [way, setWay] = useState('new');
  const [fastener, setFastener] = useState<string | null>(null);
  const parts = [...plan.parts, lubricant];
  const part = parts.find((p) => p.code === code);
  const positions = plan.groups.flatMap((g) =>
    !part?.fasteners || part.fasteners === g.group
      ? Array.from({ length: g.layout.count }, (_, i) => (g.offset ?? 0) + i + 1).map((position) => ({
          value: String(position),
          label: nameOf(position),
        }))
      : [],
  );
  const event: Partial<RunEvent> & Pick<RunEvent, 'kind'> = {
    kind: 'part_changed',
    part: code ?? '',
    answer: part?.once ? 'new' : way,
    ...(gates.length ? { items: gates } : {}),
    ...(part?.perBolt ? { fastener: wholeOf(fastener ?? '0') } : {}),
  };
  const [sure, setSure] = useState<string[]>([]);
  const said = !!part && (!part.perBolt || !!fastener);
  const close = () => {
    setCode(null);
    setFastener(null);
    setWay('new');
    onClose();
  };
  return (
    <Modal opened={opened} onClose={close} title="A part was taken out or changed">
      <div style={{ display: 'grid', gap: 12 }}>
        <Select
          label="Which part"
          size="lg"
          data={parts.map((p) => ({ value: p.code, label: p.name }))}
          value={code}
          onChange={setCode}
          searchable
          data-autofocus
        />
        {part?.perBolt && (
          <Select label="Of which" size="lg" data={positions} value={fastener} onChange={setFastener} searchable />
        )}
        {part && !part.once && (
          <SegmentedControl
            fullWidth
            size="lg"
            aria-label="What went in"
            value={way}
            onChange={setWay}
            data={[
              { value: 'new', label: 'another went in' },
              { value: 'refitted', label: 'the same went back' },
            ]}
          />
        )}
        {part?.once && <p className="dim">{part.name}: used once. What was taken out never goes in again.</p>}
        {said && <MadeSure cautions={plan.cautionsAt?.loosen} gates={gates} sure={sure} onChange={setSure} />}
        {said && <AskedAgain store={store} event={{ ...event, reason: 'changed' }} />}
        <ReasonFields
          key={code}
          choices={['It was damaged', 'It was the wrong one', 'It had moved']}
          verb="It was changed"
          ready={said && sure.length === gates.length}
          onDone={async (reason) => {
            if (person) await store.add(person, { ...event, reason });
            close();
          }}
        />
      </div>
    </Modal>
  );
}
