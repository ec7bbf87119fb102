import { Checkbox, TextInput } from '@mantine/core';
import { useRef, useState } from 'react';
import { api, type Found, must, type Offer, Refused } from '../../api/client';
import { loadCore } from '../../core/core';
import { figureIn } from '../../kit/figures';
import { num, unitText } from '../../kit/numbers';
import { ToolString } from '../../kit/ToolString';

const words: Record<string, string> = {
  wrench: 'by hand',
  multiplier: 'through a multiplier',
  hydraulic: 'hydraulic',
  tensioner: 'by tension',
};

/** For a torque: every set-up the crib can make, ranked with reasons, drawn in order; then what it cannot make and what is missing. */
export function Finder({ onChoose }: { onChoose: (tag: string) => void }) {
  const [ask, setAsk] = useState({
    torque: '',
    low: '',
    high: '',
    thread: '',
    acrossFlats: '',
    adapterDeg: '0',
    offset: false,
  });
  const [found, setFound] = useState<Found>();
  const [wrong, setWrong] = useState<Error>();
  const set = (c: Partial<typeof ask>) => setAsk((old) => ({ ...old, ...c }));
  const field = wrong instanceof Refused ? wrong.field : undefined;
  const err = (f: string) => (field === f ? wrong?.message : undefined);
  const turn = useRef(0); // an answer to what was asked before is none to what is asked now
  async function find() {
    turn.current++;
    const mine = turn.current;
    setWrong(undefined);
    try {
      await loadCore(); // it reads the figures
      const answer = await must(
        api.POST('/crib/find', {
          body: {
            torque: ask.torque,
            low: ask.low || undefined,
            high: ask.high || undefined,
            thread: ask.thread || undefined,
            acrossFlats: figureIn(ask.acrossFlats, 'mm') || undefined,
            offset: ask.offset || undefined,
            adapterDeg: ask.offset ? (figureIn(ask.adapterDeg, 'deg') ?? 0) : undefined,
          },
        }),
      );
      if (mine === turn.current) setFound(answer);
    } catch (e) {
      if (mine !== turn.current) return;
      setFound(undefined);
      setWrong(e as Error);
    }
  }
  const can = found?.offers.filter((o) => o.usable) ?? [];
  const cannot = found?.offers.filter((o) => !o.usable) ?? [];
  return (
    <div className="finder">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          void find();
        }}
      >
        <h1 className="title">Find a set-up</h1>
        <div className="fields">
          <TextInput
            label="Torque at the nut"
            placeholder="600 N·m or 440 ft-lb"
            value={ask.torque}
            onChange={(e) => set({ torque: e.currentTarget.value })}
            error={err('torque')}
          />
          <TextInput
            label="at least"
            placeholder="if the document says"
            value={ask.low}
            onChange={(e) => set({ low: e.currentTarget.value })}
            error={err('low')}
          />
          <TextInput
            label="at most"
            value={ask.high}
            onChange={(e) => set({ high: e.currentTarget.value })}
            error={err('high')}
          />
          <TextInput
            label="Thread"
            placeholder="M27"
            value={ask.thread}
            onChange={(e) => set({ thread: e.currentTarget.value })}
            error={err('thread')}
          />
          <TextInput
            label="or hexagon, mm"
            placeholder="41"
            value={ask.acrossFlats}
            onChange={(e) => set({ acrossFlats: e.currentTarget.value })}
            error={err('acrossFlats')}
          />
        </div>
        <Checkbox
          size="md"
          style={{ margin: '10px 0' }}
          label="No room straight above the nut: with a crowfoot adapter"
          checked={ask.offset}
          onChange={(e) => set({ offset: e.currentTarget.checked })}
        />
        {ask.offset && (
          <TextInput
            label="Adapter against the wrench, degrees"
            description="0 straight out in line, 90 square: then nothing is corrected"
            value={ask.adapterDeg}
            onChange={(e) => set({ adapterDeg: e.currentTarget.value })}
            style={{ maxWidth: 320, marginBottom: 10 }}
          />
        )}
        <button type="submit" className="btn now">
          Find
        </button>
        {wrong && !['torque', 'low', 'high', 'thread', 'acrossFlats'].includes(field ?? '') && (
          <p className="wrong" role="alert">
            {wrong.message}
          </p>
        )}
      </form>
      {found && (
        <div aria-live="polite">
          <div className="rule" style={{ marginTop: 14 }}>
            {can.length === 0
              ? 'Nothing in the crib can do it'
              : `${can.length} set-up${can.length === 1 ? '' : 's'}, the best first`}
            <span className="r">
              {num(found.nm, 1)} N·m
              {found.acrossFlats ? `, hexagon ${num(found.acrossFlats)} mm` : ', socket not looked for'}
            </span>
          </div>
          {can.map((o, i) => (
            <OfferCard key={o.tags} o={o} best={i === 0} onChoose={onChoose} />
          ))}
          {cannot.length > 0 && (
            <>
              <div className="rule" style={{ marginTop: 14 }}>
                Cannot, and what is missing
              </div>
              <table className="t">
                <tbody>
                  {cannot.map((o) => (
                    <tr key={o.tags}>
                      <td className="m" style={{ whiteSpace: 'nowrap' }}>
                        {o.name}
                      </td>
                      <td>{o.problems.join('; ')}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </>
          )}
          <div className="rule" style={{ marginTop: 14 }}>
            Never
          </div>
          <ul className="never">
            {found.never.map((n) => (
              <li key={n}>{n}</li>
            ))}
          </ul>
        </div>
      )}
    </div>
  );
}

function OfferCard({ o, best, onChoose }: { o: Offer; best: boolean; onChoose: (tag: string) => void }) {
  return (
    <article className={`offer${best ? ' best' : ''}`}>
      <div>
        <b className="set m">{num(o.settings.at(-1) ?? 0)}</b>
        <span className="u">{unitText(o.unit)}</span>
        <small>
          {o.unit === 'bar' || o.unit === 'MPa' || o.unit === 'psi' ? 'on the gauge' : 'to set'}, {words[o.method]}
        </small>
        <small>{num(o.atNutNm, 0)} N·m at the nut</small>
      </div>
      <div>
        <ToolString pieces={o.pieces} />
        <ul>
          {o.reasons.map((r) => (
            <li key={r}>{r}</li>
          ))}
        </ul>
        <div className="row-btns" style={{ margin: 0 }}>
          {o.pieces
            .filter((p) => p.tag)
            .map((p) => (
              <button key={p.tag} type="button" className="btn plain sm" onClick={() => onChoose(p.tag)}>
                {p.tag}
              </button>
            ))}
        </div>
      </div>
    </article>
  );
}
