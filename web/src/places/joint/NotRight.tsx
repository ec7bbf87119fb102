import { type ReactNode, useState } from 'react';
import type { RunEvent } from '../../api/client';
import { NotAFigure } from '../../kit/Figure';
import { typedAs, useRules } from '../../kit/figures';
import { num } from '../../kit/numbers';
import { hexagon } from '../../rosette/geometry';

type Kind = 'short' | 'over' | 'still' | 'setting' | 'bolt' | 'damage';

interface Props {
  name: string; // bolt 7
  label: string; // 7
  byTool: boolean; // a tool is set for this pass
  setting: number;
  graduation: number;
  unit: string; // as written
  scale: string; // its code
  onBack: () => void;
  onPull: (e: Partial<RunEvent>) => void;
  onWrongBolt: () => void;
  onHold: () => void;
}

const kinds: [Kind, string, string][] = [
  ['short', 'Stopped short', 'no room, slipped, tired'],
  ['over', 'Went past', 'pulled through the click'],
  ['still', 'Would not turn', 'clicked with no movement'],
  ['setting', 'Wrong setting', 'the wrench was set otherwise'],
  ['bolt', 'Wrong bolt', 'it was another one'],
  ['damage', 'Damage', 'thread, nut, washer, bolt'],
];

function Mark({ kind }: { kind: Kind }): ReactNode {
  const line = { fill: 'none', stroke: 'currentColor', strokeWidth: 2.4 };
  return (
    <svg width="44" height="44" viewBox="-22 -22 44 44" aria-hidden="true">
      {kind === 'short' && (
        <>
          <rect x="-22" y="-22" width="44" height="44" style={{ fill: 'var(--film-2)' }} />
          <path
            d="M-7 18V-6L0 1L7 -6V18Z"
            style={{ fill: 'url(#hHold)', stroke: 'var(--hold-edge)', strokeWidth: 1.4 }}
          />
          <path d="M-18 -12H18" style={{ stroke: 'var(--ok)', strokeWidth: 2 }} />
        </>
      )}
      {kind === 'over' && (
        <>
          <rect x="-22" y="-22" width="44" height="44" style={{ fill: 'var(--film-2)' }} />
          <path d="M-7 18V-12L0 -19L7 -12V18Z" style={{ fill: 'url(#hRej)', stroke: 'var(--rej)', strokeWidth: 1.4 }} />
          <path d="M-18 -8H18" style={{ stroke: 'var(--ok)', strokeWidth: 2 }} />
        </>
      )}
      {kind === 'still' && (
        <>
          <path d={hexagon(0, 0, 14, 30)} style={line} />
          <path d="M-20 16L20 -16" style={line} />
        </>
      )}
      {kind === 'setting' && (
        <>
          <path d="M-20 -8H20V6H-20ZM-12 -8V0M-4 -8V0M4 -8V0M12 -8V0" style={line} />
          <path d="M0 9l6 10h-12Z" style={{ fill: 'currentColor' }} />
        </>
      )}
      {kind === 'bolt' && (
        <>
          <path d="M-16 -2A16 16 0 0 1 14 -8" style={line} />
          <path d="M18 -2l-9 -2l6 -8Z" style={{ fill: 'currentColor' }} />
          <path d={hexagon(0, 10, 9, 30)} style={line} />
        </>
      )}
      {kind === 'damage' && (
        <>
          <path d={hexagon(0, 0, 15, 30)} style={line} />
          <path d="M-1 -13L-6 0H5L-1 13" style={line} />
        </>
      )}
    </svg>
  );
}

/** Six ways a pull goes wrong, each with the shape the drawing will show; one number where it is needed. */
export function NotRight({
  name,
  label,
  byTool,
  setting,
  graduation,
  unit,
  scale,
  onBack,
  onPull,
  onWrongBolt,
  onHold,
}: Props) {
  const [kind, setKind] = useState<Kind>();
  const [text, setText] = useState(String(setting));
  useRules();
  const typed = typedAs(text, scale);
  const value = typed.wrong ? Number.NaN : typed.inField;
  const setValue = (v: number) => setText(num(v, 4));
  const asks = kind === 'setting';
  const Name = name.charAt(0).toUpperCase() + name.slice(1);
  const done = () => {
    switch (kind) {
      case 'short':
        return onPull({ outcome: 'short' });
      case 'over':
        return onPull({ outcome: 'over' });
      case 'still':
        return onPull({ outcome: 'clicked_still' });
      case 'setting':
        return typed.wrong ? undefined : onPull({ outcome: 'clicked', setting: value });
      case 'bolt':
        return onWrongBolt();
      case 'damage':
        return onHold();
    }
  };
  const verb: Record<Kind, string> = {
    short: `Keep ${label} as short`,
    over: `Keep ${label} as over`,
    still: `Keep ${label} as not turning`,
    setting: typed.wrong ? 'Enter what it was set to' : `Keep ${label} at ${num(value, 2)} ${unit}`,
    bolt: 'Touch the right bolt in the drawing',
    damage: 'Stop the joint, say what',
  };
  const told: Record<Kind, string> = {
    short: `${Name} shows short and comes back at the end of the pass.`,
    over: `${Name} must be loosened and brought up again, or replaced, or accepted by an engineer.`,
    still: 'It may be seized, cross-threaded or already tight. It is marked as suspect until it is checked.',
    setting: 'The core judges what that setting did: over must be loosened, short is pulled again.',
    bolt: 'Go back and touch the bolt you were on. If the last record was the wrong one, take it back first.',
    damage: 'Nothing goes on until someone has looked. After a change of parts say so under More.',
  };
  return (
    <div style={{ display: 'flex', flexDirection: 'column', flex: 1 }}>
      <h2 className="title">{Name}: what went wrong?</h2>
      <div className="choice">
        {kinds
          .filter(([k]) => byTool || k !== 'setting')
          .map(([k, title, text]) => (
            <button
              key={k}
              type="button"
              className={`btn${kind === k ? ' on' : ''}`}
              style={{ flexDirection: 'row', alignItems: 'center', gap: 14, justifyContent: 'flex-start' }}
              onClick={() => setKind(k)}
              aria-pressed={kind === k}
            >
              <Mark kind={k} />
              <span>
                <b style={{ display: 'block' }}>{title}</b>
                {text}
              </span>
            </button>
          ))}
      </div>
      {kind && <p style={{ fontSize: 17, margin: '12px 0' }}>{told[kind]}</p>}
      {asks && (
        <div style={{ display: 'flex', gap: 10, alignItems: 'end', marginBottom: 10 }}>
          <div className="stations" style={{ gridTemplateColumns: '190px', margin: 0 }}>
            <label>
              What it was set to, {unit}
              <input inputMode="decimal" value={text} onChange={(e) => setText(e.target.value)} />
              <NotAFigure wrong={typed.wrong} choices={typed.choices} onChoose={setText} />
            </label>
          </div>
          <button
            type="button"
            className="btn"
            style={{ width: 66, height: 66 }}
            aria-label="one mark less"
            onClick={() => setValue(Math.max(graduation, (value || setting) - graduation))}
          >
            −
          </button>
          <button
            type="button"
            className="btn"
            style={{ width: 66, height: 66 }}
            aria-label="one mark more"
            onClick={() => setValue((value || setting) + graduation)}
          >
            +
          </button>
        </div>
      )}
      <div className="acts" style={{ gridTemplateColumns: '150px 1fr', marginTop: 'auto' }}>
        <button type="button" className="btn" onClick={onBack}>
          Back
        </button>
        <button type="button" className="btn now" style={{ justifyContent: 'center' }} disabled={!kind} onClick={done}>
          {kind ? verb[kind] : 'Choose one'}
        </button>
      </div>
    </div>
  );
}
