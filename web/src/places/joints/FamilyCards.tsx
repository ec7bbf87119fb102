import { TextInput } from '@mantine/core';
import { useState } from 'react';
import { type FamilyRow, useFamilies } from '../../api/client';
import { placesOf, useFamilyCore } from '../../core/family';
import { FamilyThumb, pictureOf } from '../../pictures/FamilyPicture';
import { Rosette } from '../../rosette/Rosette';

/** A family as its own drawing: the first of its layouts. */
export function FamilyMark({ row, size = 84 }: { row: FamilyRow; size?: number }) {
  const ready = useFamilyCore();
  const picture = pictureOf(row.code);
  if (picture) return <FamilyThumb picture={picture} size={size} />;
  const l = [...row.layouts].sort((a, b) => b.count - a.count)[0];
  if (!l) return null;
  const laid = ready ? placesOf(l) : undefined;
  if (!laid || laid.places.length === 0) return <svg width={size} height={size} aria-hidden="true" />;
  return (
    <Rosette
      size={size}
      count={laid.layout.count}
      startDeg={l.startDeg}
      kind={l.kind}
      places={laid.places}
      numbers={[]}
      label={`${row.name}: ${laid.layout.count} ${l.kind ?? 'circle'}`}
    />
  );
}

/** All families as cards to choose from, found by the words of the trade. */
export function FamilyCards({ chosen, onChoose }: { chosen?: string | undefined; onChoose: (code: string) => void }) {
  const families = useFamilies();
  const [q, setQ] = useState('');
  const words = q.toLowerCase().split(/\s+/).filter(Boolean);
  const list = (families.data ?? []).filter((f) =>
    words.every((w) => `${f.name} ${f.looks} ${f.words.join(' ')}`.toLowerCase().includes(w)),
  );
  return (
    <>
      <TextInput
        label="Find a family"
        placeholder="flange, shaft lock, hose, tube, wheel …"
        value={q}
        onChange={(e) => setQ(e.currentTarget.value)}
        style={{ maxWidth: 420 }}
        data-autofocus
      />
      <div className="family-cards">
        {list.map((f) => (
          <button
            key={f.code}
            type="button"
            className={`family${f.code === chosen ? ' on' : ''}`}
            aria-pressed={f.code === chosen}
            onClick={() => onChoose(f.code)}
          >
            <FamilyMark row={f} />
            <span>
              <b>{f.name}</b>
              <small>{f.looks}</small>
              <small className="dim">
                {f.groups > 1 ? `${f.groups} groups, ` : ''}
                {f.checks} checks{f.holds ? `, ${f.holds} ${f.holds === 1 ? 'hold' : 'holds'}` : ''}
                {f.site ? ' · the site’s own version' : ''}
              </small>
            </span>
          </button>
        ))}
      </div>
      {list.length === 0 && families.data && <p className="empty">No family is called “{q}”.</p>}
    </>
  );
}
