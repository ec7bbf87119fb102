import type { Family } from '../../api/client';
import { conditionWords } from '../../kit/conditions';
import { FamilyPicture } from '../../pictures/FamilyPicture';
import { limitText } from '../joint/limits';

const doWord: Record<string, string> = {
  hand: 'by hand',
  torque: 'to torque, in stages',
  still: 'round until nothing moves',
  verify: 'once more, each ticked',
  turn: 'by a turn from its mark',
  turns: 'a turn on each in turn, until the torque',
  shape: 'until a shape is reached',
  effort: 'adjust and measure the effort',
  stretch: 'until the bolt is longer',
  leave: 'left as it is: no torque',
  undo: 'let go again',
  ease: 'let go in rounds',
};

const stopNames: Record<string, string> = { hand_over: 'hand over', loosen: 'taking apart' };

/** Where a caution is told, by what the place is called. */
const placeName = (f: Family) => (place: string) => {
  const [what, code] = place.split('/');
  if (what === 'check') return f.checks.find((c) => c.code === code)?.title.toLowerCase() ?? place;
  if (what === 'step') return f.work.find((w) => w.code === code)?.name ?? place;
  return stopNames[place] ?? place;
};

/** The answers of a condition, by what they are called. */
const whenName = (f: Family, when: Record<string, string[]>) =>
  Object.entries(when)
    .flatMap(([q, list]) =>
      list.map(
        (v) =>
          f.questions?.find((x) => x.code === q)?.options.find((o) => o.code === v)?.name ?? v.replaceAll('_', ' '),
      ),
    )
    .join(', ');

/** What the readings of a check are held against: a figure of the document, a limit of the house, or its own. */
function heldAgainst(f: Family, c: Family['checks'][number]): string {
  const figure = (code: string | undefined) => f.figures?.find((x) => x.code === code)?.name.toLowerCase();
  const from = [figure(c.lowFigure), figure(c.highFigure)].filter(Boolean);
  if (from.length) return `Held against the document: ${[...new Set(from)].join(', ')}`;
  if (c.limitKey) return 'Held against the document, or the house rules where it says nothing';
  return limitText(c);
}

/** The checks of a stop, row by row. */
function StopChecks({ family: f, station }: { family: Family; station: string }) {
  return f.rows
    .filter((g) => g.station === station)
    .map((g) => (
      <div key={g.code}>
        <h3>{g.title}</h3>
        <ul className="steps">
          {f.checks
            .filter((c) => c.row === g.code)
            .map((c) => (
              <li key={c.code}>
                <b>{c.title}</b> {c.hold && <span className="hld">hold{c.twoPerson ? ', two people' : ''}</span>}{' '}
                {c.ask}
                {c.kind === 'measure' && <span className="dim"> {heldAgainst(f, c)}.</span>}
                {c.expect && <span> Must be: {c.expect}</span>}
                {c.before && (
                  <span className="dim"> Before {f.work.find((w) => w.code === c.before)?.name ?? c.before}.</span>
                )}
                {c.after && (
                  <span className="dim"> After {f.work.find((w) => w.code === c.after)?.name ?? c.after}.</span>
                )}
                {c.when && <span className="dim"> Only for {whenName(f, c.when)}.</span>}
                <div className="dim">{c.why}</div>
              </li>
            ))}
        </ul>
      </div>
    ));
}

/** The steps of the work, one after another. */
function Steps({ family: f }: { family: Family }) {
  const nameOf = (code: string) => f.fasteners.find((g) => g.code === code)?.name ?? code;
  return (
    <ol className="steps">
      {f.work.map((w) => (
        <li key={w.code}>
          <b>{w.groups.map(nameOf).join(', ')}</b>: {doWord[w.do] ?? w.do}
          {w.only && (w.only === 'cardinal' ? ', the four at right angles' : ', the rest')}
          {w.rounds &&
            `: ${w.rounds.map((r) => `${r.turnDeg ? `${r.turnDeg}° back, ` : ''}about ${r.left} % left`).join('; ')}`}
          {w.until && `. Until: ${w.until}`}
          {w.turnDeg ? ` ${w.turnDeg}°` : ''} {w.datum && <span>From: {w.datum}. </span>}
          {w.caution && <span className="neg">{w.caution} </span>}
          <span className="dim">{w.why}</span>
        </li>
      ))}
    </ol>
  );
}

const fateWord: Record<string, string> = {
  scrap: 'is thrown away',
  inspect: 'is looked over',
  match: 'is kept and marked',
  stays: 'stays on the machine',
};

/** How a joint of the family comes apart, in the order of the work. */
function ComesApart({ family: f }: { family: Family }) {
  const a = f.apart;
  if (!a) return <p>{f.loosen.join(' ')}</p>;
  const way: Family = {
    ...f,
    fasteners: [...f.fasteners, ...(a.fasteners ?? [])],
    work: a.work,
    rows: a.rows ?? [],
    checks: a.checks,
  };
  return (
    <>
      <div className="rule">Taking apart: made safe first</div>
      <StopChecks family={way} station="ready" />
      <div className="rule">Taking apart: let go</div>
      <Steps family={way} />
      <StopChecks family={way} station="tighten" />
      <div className="rule">Taking apart: what came out</div>
      <StopChecks family={way} station="prove" />
      <ul className="steps">
        {(a.fates ?? []).map((x) => (
          <li key={x.part}>
            <b>{f.parts.find((p) => p.code === x.part)?.name ?? x.part}</b> {fateWord[x.then]}.{' '}
            <span className="dim">{x.why}</span>
          </li>
        ))}
        {f.parts
          .filter((p) => p.once)
          .map((p) => (
            <li key={p.code}>
              <b>{p.name}</b> <span className="neg">is used once: it never goes in again.</span>
            </li>
          ))}
      </ul>
    </>
  );
}

/** A procedure read from top to bottom, in the order of the work. */
export function ProcedureView({ family: f }: { family: Family }) {
  return (
    <>
      <h1 className="title">{f.name}</h1>
      <p>{f.looks}</p>
      <FamilyPicture family={f.code} />
      {(f.questions ?? []).map((q) => (
        <p key={q.code}>
          <b>{q.ask}</b> {q.options.map((o) => o.name).join(' · ')}
          {q.figure ? ` (by ${f.figures?.find((x) => x.code === q.figure)?.name.toLowerCase()})` : ''}{' '}
          <span className="dim">{q.why}</span>
        </p>
      ))}
      <div className="rule">Fasteners</div>
      <table className="t">
        <tbody>
          {f.fasteners.map((g) => (
            <tr key={g.code}>
              <td>
                <b>{g.name}</b>
                {g.face ? `, face ${g.face}` : ''}
              </td>
              <td>{g.target === 'none' ? 'must not be torqued' : `ends at ${g.target}`}</td>
              <td>
                {g.patterns.join(', ')}
                {Object.entries(g.refused ?? {}).map(([p, why]) => (
                  <div key={p} className="neg">
                    never {p}: {why}
                  </div>
                ))}
              </td>
              <td>
                {g.condition && <b>{conditionWords(g.condition)}. </b>}
                {g.where}
                {g.targetWhy}
                {g.snug && <div className="dim">Snug: {g.snug}</div>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="rule">Ready: before the first pull</div>
      <StopChecks family={f} station="ready" />
      <div className="rule">Tighten</div>
      <Steps family={f} />
      <StopChecks family={f} station="tighten" />
      <div className="rule">Prove</div>
      <StopChecks family={f} station="prove" />
      <div className="rule">Hand over</div>
      <StopChecks family={f} station="hand_over" />
      <div className="rule">Parts, supplies, tools</div>
      <p>
        {[...f.parts, ...(f.supplies ?? [])]
          .map((p) => `${p.name}${p.perBolt ? ' for each' : p.quantity > 1 ? ` × ${p.quantity}` : ''}`)
          .join(' · ')}
      </p>
      <p className="dim">{(f.tools ?? []).join(' · ')}</p>
      <div className="rule">Cautions</div>
      <ul className="steps">
        {f.cautions.map((text) => {
          const [says, at] = text.split(' @ ');
          return (
            <li key={text}>
              {says} {at && <span className="dim">Told at: {at.split(', ').map(placeName(f)).join(', ')}.</span>}
            </li>
          );
        })}
      </ul>
      <ComesApart family={f} />
    </>
  );
}
