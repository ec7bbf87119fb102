import { Modal } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Figure } from '../../kit/Figure';
import { digits } from '../../kit/numbers';
import { type Advice, ask, type LabProcedure, type LabSetup } from './ask';

const limits = [
  'Cross-sections of the rings stay plane, bolts do not bend, the gasket is a bed of springs at each place by itself.',
  'The curve of the gasket is a typical one, not of its maker: how much bolts lose depends on it more than on anything else.',
  'Nuts do not stick: what it takes to break them loose is not in it.',
  'It is no proof of a joint, and says nothing of pressure, heat or a pipe that pulls. Site rules, the document and qualified people decide.',
];

/** What the model was given and where it comes from, or the fewest pulls that are even enough. */
export function Working({
  of,
  setup,
  onBack,
  onTake,
}: {
  of: 'working' | 'advice';
  setup: LabSetup;
  onBack: () => void;
  onTake: (p: LabProcedure) => void;
}) {
  return (
    <Modal opened onClose={onBack} title={of === 'working' ? 'The working' : 'The fewest pulls'} size="lg">
      {of === 'working' ? <Given setup={setup} /> : <Advise setup={setup} onTake={onTake} />}
    </Modal>
  );
}

function Given({ setup }: { setup: LabSetup }) {
  const q = useQuery({ queryKey: ['lab', 'of', setup], queryFn: () => ask('of', { setup }), retry: false });
  const j = q.data;
  if (q.isError) return <p className="wrong">{q.error.message}</p>;
  if (!j) return <p>Computing.</p>;
  return (
    <>
      {j.estimated.length > 0 && (
        <p>
          <b>Estimated from usual proportions:</b> {j.estimated.join(', ')}.
        </p>
      )}
      <table className="t">
        <tbody>
          {j.figures.map((f) => (
            <tr key={f.name}>
              <td>{f.name}</td>
              <td className="n">
                {f.value.toPrecision(4)} {f.unit}
              </td>
              <td className="dim">{f.source}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <h3 className="rule">Taken for granted, and its limits</h3>
      <ul>
        {limits.map((l) => (
          <li key={l}>{l}</li>
        ))}
      </ul>
    </>
  );
}

function Advise({ setup, onTake }: { setup: LabSetup; onTake: (p: LabProcedure) => void }) {
  const [even, setEven] = useState<number | ''>(90);
  const [got, setGot] = useState<Advice>();
  const [busy, setBusy] = useState(false);
  const [wrong, setWrong] = useState('');
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        setBusy(true);
        setWrong('');
        ask('advise', { setup, procedure: { school: 'cross', stages: [100], tools: 1, rounds: 0 }, even: even || 90 })
          .then(setGot)
          .catch((err: Error) => setWrong(err.message))
          .finally(() => setBusy(false));
      }}
    >
      <Figure label="The lowest bolt is to have, % of the highest" value={even} onChange={setEven} />
      <div className="row-btns" style={{ marginTop: 10 }}>
        <button type="submit" className="btn now" disabled={busy}>
          {busy ? 'Trying schools, stages and rounds' : 'Find it'}
        </button>
      </div>
      {wrong && <p className="wrong">{wrong}</p>}
      {got && (
        <>
          <p>
            <b>{got.word}</b>: {got.pulls} pulls, about {digits(got.minutes, 3)} min, the lowest bolt has{' '}
            {digits(got.even, 3)} % of the highest. {got.tried} ways were tried.{' '}
            {!got.enough && 'None of them was even enough: this is the most even.'}
          </p>
          <button type="button" className="btn" onClick={() => onTake(got.procedure)}>
            Put it on the left
          </button>
        </>
      )}
    </form>
  );
}
