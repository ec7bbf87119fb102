import { useEffect, useRef, useState } from 'react';
import { digits, num } from '../../kit/numbers';
import { ask, type Buy, type Chances, type LabProcedure, type LabSetup } from './ask';

const whole = 200; // histories
const batch = 5;
const window = 15; // percent of the target

/** How likely every bolt ends near its target, with friction, tool and gasket as they spread; and what would help most. */
export function Likely({
  setup,
  procedure,
  chances,
  onChances,
}: {
  setup: LabSetup;
  procedure: LabProcedure;
  chances: Chances | undefined;
  onChances: (c: Chances | undefined) => void;
}) {
  const [done, setDone] = useState<number>();
  const [buys, setBuys] = useState<Buy[]>();
  const [wrong, setWrong] = useState('');
  const [busy, setBusy] = useState(false);
  const going = useRef(false);
  const asked = JSON.stringify([setup, procedure]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was drawn belongs to what it was drawn for
  useEffect(() => {
    going.current = false;
    setDone(undefined);
    setBuys(undefined);
    return () => {
      going.current = false;
    };
  }, [asked]);
  const draw = async () => {
    going.current = true;
    setWrong('');
    try {
      for (let first = 0; first < whole && going.current; first += batch) {
        setDone(first);
        onChances(await ask('draw', { setup, procedure, seed: 1, first, n: batch, window }));
      }
    } catch (e) {
      setWrong((e as Error).message);
    }
    going.current = false;
    setDone(undefined);
  };
  const buy = () => {
    setBusy(true);
    ask('buys', { setup, procedure, seed: 2, n: 12, window })
      .then(setBuys)
      .catch((e: Error) => setWrong(e.message))
      .finally(() => setBusy(false));
  };
  return (
    <div className="lab-likely">
      {chances && (
        <p>
          In <b>{num(chances.inside * 100, 0)} of 100</b> joints every bolt ends within {chances.window} % of the target
          {setup.needMpa > 0 && `, and in ${num(chances.holds * 100, 0)} the gasket keeps what it needs`}: {chances.n}{' '}
          histories with friction ±{num(setup.frictionPct)} %, tool ±{num(setup.toolPct)} %
          {setup.curvePct > 0 && `, gasket ±${num(setup.curvePct)} %`}, one deviation each.
        </p>
      )}
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
      <div className="row-btns">
        {done === undefined ? (
          <button type="button" className="btn sm" onClick={() => void draw()}>
            How likely?
          </button>
        ) : (
          <>
            <progress max={whole} value={done} aria-label="Histories drawn" /> {done} of {whole}
            <button
              type="button"
              className="btn sm"
              onClick={() => {
                going.current = false;
              }}
            >
              Stop
            </button>
          </>
        )}
        <button type="button" className="btn sm" disabled={busy} onClick={buy}>
          {busy ? 'Trying each of them' : 'What would help most?'}
        </button>
      </div>
      {buys && (
        <table className="t">
          <thead>
            <tr>
              <th>With</th>
              <th className="n">of 100 inside</th>
              <th className="n">lowest of highest</th>
              <th className="n">pulls</th>
              <th className="n">minutes</th>
            </tr>
          </thead>
          <tbody>
            {buys.map((b) => (
              <tr key={b.what}>
                <td>{b.what}</td>
                <td className="n">{num(b.inside * 100, 0)}</td>
                <td className="n">{digits(b.even, 3)} %</td>
                <td className="n">{b.pulls > 0 ? `+${b.pulls}` : b.pulls}</td>
                <td className="n">{b.minutes > 0 ? `+${digits(b.minutes, 3)}` : digits(b.minutes, 3)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
