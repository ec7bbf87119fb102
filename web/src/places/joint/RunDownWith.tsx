import type { FastenerGroup } from '../../api/client';

/** What a nut is run down with: the hand, or a tool that tells no torque. What the procedure forbids says why. */
export interface Chosen {
  kind: string; // '' for the hand
  tag: string;
}

export const byHand: Chosen = { kind: '', tag: '' };

export function RunDownWith({
  group,
  easing = false,
  value,
  onChange,
}: {
  group: FastenerGroup;
  easing?: boolean; // it is let go, not run down
  value: Chosen;
  onChange: (v: Chosen) => void;
}) {
  const list = group.runDown ?? [];
  const ways = list.flatMap((r) =>
    r.never
      ? []
      : r.tags.length
        ? r.tags.map((tag) => ({ ...r, tag }))
        : r.kind === 'spanner'
          ? [{ ...r, tag: '' }]
          : [],
  );
  const never = list.filter((r) => r.never);
  const label = easing ? 'Let go with' : 'Run down with';
  return (
    <div className="run-down">
      <span className="lab">{label}</span>
      <fieldset className="ways" aria-label={label}>
        <button
          type="button"
          className={`btn sm${value.kind === '' ? ' on' : ''}`}
          aria-pressed={value.kind === ''}
          onClick={() => onChange(byHand)}
        >
          {easing ? 'a bar' : 'the hand'}
        </button>
        {ways.map((r) => (
          <button
            key={`${r.kind} ${r.tag}`}
            type="button"
            className={`btn sm${value.kind === r.kind && value.tag === r.tag ? ' on' : ''}`}
            aria-pressed={value.kind === r.kind && value.tag === r.tag}
            onClick={() => onChange({ kind: r.kind, tag: r.tag })}
          >
            {r.word} {r.tag}
          </button>
        ))}
      </fieldset>
      <Never list={never} />
    </div>
  );
}

/** What never goes on these nuts, and why. */
export function Never({ list }: { list: { word: string; never?: string }[] }) {
  if (!list.length) return null;
  return (
    <ul className="never">
      {list.map((r) => (
        <li key={r.word}>
          <b>Never: {r.word}.</b> {r.never && r.never.charAt(0).toUpperCase() + r.never.slice(1)}
        </li>
      ))}
    </ul>
  );
}
