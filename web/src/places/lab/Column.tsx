import { useElementSize } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { digits, num } from '../../kit/numbers';
import { ask, type Chances, type LabProcedure, type LabSetup } from './ask';
import { ChangeProcedure } from './ChangeProcedure';
import { Gap } from './Gap';
import { Likely } from './Likely';
import { HistoryTable, Out } from './Out';
import { Ring } from './Ring';
import { Strip } from './Strip';

/** One way of tightening: what each bolt has after so many pulls, what comes out in the end, and how likely. */
export function Column({
  side,
  setup,
  procedure,
  planned,
  at,
  onSteps,
  onChange,
  onKeep,
}: {
  side: 'left' | 'right';
  setup: LabSetup;
  procedure: LabProcedure;
  planned: LabProcedure | undefined; // in which the joint is planned
  at: number | undefined; // pulls done; undefined: all
  onSteps: (n: number) => void;
  onChange: (p: LabProcedure) => void;
  onKeep: () => void;
}) {
  const { ref, width } = useElementSize();
  const [changing, setChanging] = useState(false);
  const [chances, setChances] = useState<Chances>();
  const [table, setTable] = useState(false);
  const q = useQuery({
    queryKey: ['lab', 'play', setup, procedure],
    queryFn: async () => {
      const o = await ask('play', { setup, procedure });
      onSteps(o.history.length);
      return o;
    },
    retry: false,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const o = q.data;
  const step = o ? Math.min(at ?? o.history.length, o.history.length) : 0;
  const forces = o ? (step === 0 ? o.forces.map(() => 0) : (o.history[step - 1] ?? o.forces)) : [];
  const end = o && step === o.history.length;
  return (
    <section className="lab-column" aria-label={side === 'left' ? 'Left' : 'Right'}>
      <div className="lab-title">
        <h2>{o?.word ?? (q.isError ? 'Cannot be' : 'Computing')}</h2>
        <button type="button" className="btn sm" onClick={onKeep}>
          Keep aside
        </button>
        <button type="button" className="btn sm" onClick={() => setChanging(true)}>
          Change {side}
        </button>
      </div>
      {q.isError && (
        <p className="wrong" role="alert">
          {q.error.message}
        </p>
      )}
      {o && (
        <>
          <div className="lab-figures">
            <Ring
              forces={forces}
              target={setup.targetKn}
              enough={o.enough}
              pulled={end ? [] : (o.steps[step - 1]?.bolts ?? [])}
              gasket={o.gasket[step - 1]}
              hardest={hardest(o.gasket)}
              bands={end ? chances?.band : undefined}
            />
            <dl>
              <Row name="lowest bolt" value={digits(o.min, 3)} unit={`kN, bolt ${o.lowest}`} bad={o.uneven} />
              <Row name="highest" value={digits(o.max, 3)} unit="kN" bad={false} />
              <Row name="lowest of highest" value={digits(o.even, 3)} unit="%" bad={o.uneven} />
              <Row name="pulls" value={String(o.pulls)} unit={`about ${digits(o.minutes, 3)} min`} bad={false} />
              {setup.gasket !== 'taper' && (
                <Row
                  name={setup.gasket === 'face' ? 'faces, least' : 'gasket, least'}
                  value={digits(o.stress, 3)}
                  unit={o.needKnown ? `MPa, needs ${num(setup.needMpa)}` : 'MPa'}
                  bad={o.needKnown && !o.holds}
                />
              )}
              {o.yieldPct > 0 && (
                <Row name="highest on the way" value={digits(o.yieldPct, 3)} unit="% of yield" bad={o.yieldPct > 100} />
              )}
              <Row name="out of parallel" value={num(o.tiltMm, 2)} unit="mm at the edge" bad={false} />
            </dl>
          </div>
          <Gap
            gap={o.gap[step - 1] ?? o.forces.flatMap(() => [0, 0])}
            most={hardest(o.gap)}
            tilt={o.tiltMms[step - 1] ?? 0}
            wide={Math.max(260, width)}
          />
          <div ref={ref}>
            <Strip o={o} target={setup.targetKn} at={step} wide={Math.max(260, width)} />
          </div>
          <p className="lab-says">{o.sentence}</p>
          <Likely setup={setup} procedure={procedure} chances={chances} onChances={setChances} />
          <div className="row-btns">
            <button type="button" className="btn sm" aria-expanded={table} onClick={() => setTable(!table)}>
              As a table
            </button>
            <Out o={o} side={side} setup={setup} procedure={procedure} />
          </div>
          {table && <HistoryTable o={o} />}
        </>
      )}
      {changing && (
        <ChangeProcedure
          setup={setup}
          procedure={procedure}
          planned={planned}
          onBack={() => setChanging(false)}
          onDone={(p) => {
            setChances(undefined);
            setChanging(false);
            onChange(p);
          }}
        />
      )}
    </section>
  );
}

/** The largest of a whole history, so that what is drawn keeps its scale while it plays. */
const hardest = (history: number[][]) =>
  history.reduce((m, row) => row.reduce((n, v) => Math.max(n, Math.abs(v)), m), 0);

function Row({ name, value, unit, bad }: { name: string; value: string; unit: string; bad: boolean }) {
  return (
    <div className={bad ? 'bad' : ''}>
      <dt>{name}</dt>
      <dd>
        <b className="m">
          {bad && <span aria-hidden="true">! </span>}
          {value}
        </b>{' '}
        {unit}
      </dd>
    </div>
  );
}
