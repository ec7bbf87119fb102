import { useState } from 'react';
import type { LabProcedure } from './ask';

const key = 'lab aside';
const most = 12;

const read = (): LabProcedure[] => {
  try {
    return JSON.parse(localStorage.getItem(key) ?? '[]') as LabProcedure[];
  } catch {
    return [];
  }
};

/** Keeps a way of tightening on this device, to be compared later; gives how many there are. */
export function keepAside(p: LabProcedure): number {
  const list = [p, ...read().filter((o) => JSON.stringify(o) !== JSON.stringify(p))].slice(0, most);
  localStorage.setItem(key, JSON.stringify(list));
  return Date.now();
}

const word = (p: LabProcedure) =>
  `${p.school}, ${p.stages.join(', ')}${p.rounds > 0 ? `, ${p.rounds} round${p.rounds > 1 ? 's' : ''}` : ''}${p.targets ? ', compensated' : ''}${p.tools > 1 ? `, ${p.tools} tools` : ''}`;

/** What was kept aside, to be put in either column. */
export function Aside({ onLeft, onRight }: { onLeft: (p: LabProcedure) => void; onRight: (p: LabProcedure) => void }) {
  const [list, setList] = useState(read);
  if (list.length === 0) return null;
  return (
    <section className="lab-aside">
      <h2 className="rule">Kept aside</h2>
      <ul>
        {list.map((p) => (
          <li key={JSON.stringify(p)}>
            <span>{word(p)}</span>
            <button type="button" className="btn sm" onClick={() => onLeft(p)} aria-label={`${word(p)} to the left`}>
              To the left
            </button>
            <button type="button" className="btn sm" onClick={() => onRight(p)} aria-label={`${word(p)} to the right`}>
              To the right
            </button>
            <button
              type="button"
              className="btn plain sm"
              aria-label={`Drop ${word(p)}`}
              onClick={() => {
                const rest = list.filter((o) => o !== p);
                localStorage.setItem(key, JSON.stringify(rest));
                setList(rest);
              }}
            >
              Drop
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
