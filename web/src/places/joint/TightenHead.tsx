import type { PassState } from '../../api/client';
import { num } from '../../kit/numbers';
import { easeBig } from './Ease';
import { turnWords } from './hand';
import { PassTable } from './PassTable';
import { capital, type Work } from './useTighten';

/** The largest thing on the screen: the number to set, or how far, or what is done by hand. */
interface Big {
  text: string;
  words?: boolean;
  unit?: string;
  under?: string;
}

function bigOf(pass: PassState, byTool: boolean, setting: number): Big {
  if (byTool && pass.kind !== 'turns') return { text: num(setting, 2) };
  switch (pass.kind) {
    case 'turns':
      return { text: num(setting, 2), under: turnWords(pass.turnDeg ?? 0) };
    case 'turn':
      return { text: `${num(pass.turnDeg ?? 0, 0)}°`, unit: 'turn', under: turnWords(pass.turnDeg ?? 0) };
    case 'effort':
      return {
        text: `${num(pass.lowNm ?? 0, 0)}–${num(pass.highNm ?? 0, 0)}`,
        words: true,
        unit: 'N·m',
        under: pass.until || 'effort to turn',
      };
    case 'stretch':
      return {
        text: `${num(pass.lowMm ?? 0, 3)}–${num(pass.highMm ?? 0, 3)}`,
        words: true,
        unit: 'mm',
        under: 'longer than before',
      };
    case 'leave':
      return { text: 'No torque', words: true, unit: '', under: 'stays as it is' };
    case 'undo':
      return { text: 'Undo', words: true, unit: '', under: 'let go on purpose' };
    case 'shape':
      return { text: 'To shape', words: true, unit: '', under: 'no torque decides here' };
  }
  return { text: 'By hand', words: true, unit: '', under: 'no tool is set' };
}

/** What is next, and the largest thing on the screen: what to set, or how far. */
export function TightenHead({ w }: { w: Work }) {
  const {
    s,
    pass,
    hand,
    live,
    here,
    override,
    confirming,
    pressure,
    phone,
    byTool,
    several,
    unit,
    tool: t,
    group: g,
    onlyHeldBack,
  } = w;
  const big: Big = pass.kind === 'ease' ? easeBig(pass, g, w.runDown) : bigOf(pass, byTool, hand.setting);
  const bigText = big.text;
  return (
    <>
      <div className="hd">
        {live ? (
          confirming ? (
            <>
              <span className="b">
                {hand.letter && `${hand.letter}: `}
                {pressure ? 'Set the pressure' : 'Set the wrench'}
              </span>
              <span className="w">{hand.confirm}</span>
            </>
          ) : here ? (
            <>
              <span className="b">
                {hand.letter && `${hand.letter}: `}
                {capital(w.nameOf(here))}
              </span>
              <span className="w">
                {override ? 'out of order, by your choice' : (hand.wait ?? hand.next?.why)}
                <span className="then">
                  {!override && hand.next?.then.length ? ` · then ${hand.next.then.join(', ')}` : ''}
                </span>
              </span>
            </>
          ) : (
            <>
              <span className="b">{hand.letter} is done in this pass</span>
              <span className="w">the next pass begins when the others are done</span>
            </>
          )
        ) : (
          <span className="b" style={{ color: 'var(--ink)' }}>
            {s.pass > 0 ? `Pass ${s.pass}, not open yet` : 'All passes are done'}
          </span>
        )}
      </div>
      {hand.others.length > 0 && live && (
        <p className="others">
          {hand.others.map((o) => (
            <span key={o.letter}>
              <b>{o.letter}</b> {o.person || 'nobody yet'}: {o.next ? o.next.name : 'done'}
              {o.confirm ? ', still setting' : ''}
            </span>
          ))}
        </p>
      )}
      <div className="num-row">
        <div
          className={`big${big.words ? ' words' : bigText.length === 3 ? ' three' : bigText.length > 3 ? ' four' : ''}`}
          data-testid="setting"
        >
          {bigText}
        </div>
        {phone ? (
          <div className="unit">
            {big.unit ?? unit}
            <small>
              {byTool ? `on ${hand.name}` : (g.groupName ?? '')}
              <br />
              pass {pass.number} of {s.passes.length}
              {several && <>, {g.groupName?.toLowerCase()}</>}
            </small>
          </div>
        ) : (
          <PassTable state={s} onlyHeldBack={onlyHeldBack} />
        )}
      </div>
      {!phone && !byTool && (
        <div className="unit">
          {big.unit} <small>{big.under}</small>
        </div>
      )}
      {!phone && byTool && (
        <div className="unit">
          {unit}{' '}
          <small>
            {pressure ? 'on the gauge of pump' : t?.kind === 'click' ? 'on the scale of click wrench' : 'on'} {t?.tag}
            {hand.name !== t?.tag && `, through ${hand.name.split(' × ').slice(1).join(' and ')}`}
          </small>
        </div>
      )}
    </>
  );
}
