import { Modal, NumberInput, Select, TextInput } from '@mantine/core';
import { useState } from 'react';
import { Figure } from '../../kit/Figure';
import { digits } from '../../kit/numbers';
import { useSheet } from '../../kit/sheet';
import { ask, type Compensated, type LabProcedure, type LabSetup } from './ask';
import { IntoPlan } from './IntoPlan';
import { Ring } from './Ring';
import { stagesOf } from './stages';

const schools = [
  { value: 'cross', label: 'cross' },
  { value: 'group', label: 'in quarters' },
  { value: 'clockwise', label: 'clockwise' },
  { value: 'pairs', label: 'opposite pairs' },
  { value: 'together', label: 'all at once, tensioned' },
  { value: 'own', label: 'an order of your own' },
];

/** School, stages, tools and rounds; an order of one's own is made by touching the bolts in turn. */
export function ChangeProcedure({
  setup,
  procedure,
  planned,
  onBack,
  onDone,
}: {
  setup: LabSetup;
  procedure: LabProcedure;
  planned: LabProcedure | undefined; // in which a joint of the register is planned
  onBack: () => void;
  onDone: (p: LabProcedure) => void;
}) {
  const sheet = useSheet({ ...procedure, steps: procedure.stages.join(' ') }, async () => {
    const next = whole();
    await ask('play', { setup, procedure: next });
    onDone(next);
  });
  const p = sheet.values;
  const [made, setMade] = useState<Compensated>();
  const own = p.own ?? [];
  const whole = (): LabProcedure => {
    const { targets: _, steps, ...rest } = sheet.now();
    return { ...rest, stages: stagesOf(steps) };
  };
  const compensate = () => ask('compensate', { setup, procedure: whole(), planned }).then(setMade).catch(sheet.refused);
  const touch = (b: number) => {
    sheet.put({ own: own.at(-1) === b ? own.slice(0, -1) : own.includes(b) ? own : [...own, b] });
  };
  return (
    <Modal opened onClose={onBack} title="Another way of tightening" size="lg">
      <form className="lab-form" onSubmit={sheet.submit}>
        <Select
          label="School"
          value={p.school}
          data={schools}
          allowDeselect={false}
          onChange={(school) => school && sheet.put({ school: school as LabProcedure['school'] })}
        />
        <TextInput label="Stages, % of the target" {...sheet.field('steps', 'stages')} inputMode="numeric" />
        <NumberInput
          label="Tools at once"
          value={p.tools}
          min={1}
          max={8}
          onChange={(v) => sheet.put({ tools: typeof v === 'number' ? v : 1 })}
        />
        <NumberInput
          label="Rounds at the full target"
          value={p.rounds}
          min={0}
          max={20}
          onChange={(v) => sheet.put({ rounds: typeof v === 'number' ? v : 0 })}
        />
        <Figure
          label="Turned at most in one pull, °; empty: up to the target"
          value={p.turnDeg || ''}
          onChange={(v) => sheet.put({ turnDeg: v || 0 })}
        />
        {p.school === 'own' && (
          <div className="own">
            <p>
              {own.length} of {setup.bolts} touched. Touch the last one again to take it back.
            </p>
            <Ring
              forces={Array.from({ length: setup.bolts }, () => setup.targetKn)}
              target={setup.targetKn}
              pulled={[]}
              gasket={undefined}
              bands={undefined}
              onBolt={touch}
              order={own}
            />
            <TextInput
              label="The order in figures"
              value={own.join(' ')}
              onChange={(e) => sheet.put({ own: stagesOf(e.currentTarget.value) })}
            />
            <button type="button" className="btn sm" onClick={() => sheet.put({ own: [] })}>
              Begin anew
            </button>
          </div>
        )}
        {sheet.rest() && (
          <p className="wrong" role="alert">
            {sheet.rest()}
          </p>
        )}
        <div className="row-btns">
          <button type="submit" className="btn now">
            Take it
          </button>
          <button type="button" className="btn" onClick={() => void compensate()}>
            Make up for the neighbours
          </button>
          <button type="button" className="btn" onClick={onBack}>
            Leave it
          </button>
        </div>
        {made && (
          <section className="made">
            <p>
              With targets of its own for each bolt, up to {digits(made.ratio, 3)} times the target, the lowest ends at{' '}
              {digits(made.even, 3)} % of the highest: with this gasket. A fifth softer it is {digits(made.softer, 3)}{' '}
              %, a fifth stiffer {digits(made.stiffer, 3)} %. {made.yields && 'One of them yields its bolt. '}
              It is to be compared here; a plan has it only when an engineer accepts it.
            </p>
            <button type="button" className="btn" disabled={made.yields} onClick={() => onDone(made.procedure)}>
              Compare with these targets
            </button>
            {setup.tag && <IntoPlan tag={setup.tag} made={made} />}
          </section>
        )}
      </form>
    </Modal>
  );
}
