import { memo, type PointerEvent, useMemo } from 'react';
import type { ShiftActivity, ShiftPlan } from '../../api/client';
import { Frame, type Part } from './Frame';
import type { Lane } from './lanes';
import { frames, type ruler } from './ruler';
import { nameOf } from './words';

/** The bars of all lanes. */
export const Bars = memo(function Bars({
  p,
  lanes,
  r,
  parts,
  now,
  at,
  inHand,
  onChoose,
  onDown,
}: {
  p: ShiftPlan;
  lanes: Lane[];
  r: ReturnType<typeof ruler>;
  parts: Part[];
  now: number;
  at: string; // the chosen one
  inHand: string;
  onChoose: (a: ShiftActivity) => void;
  onDown: (e: PointerEvent, a: ShiftActivity) => void;
}) {
  const joints = useMemo(() => new Map(p.joints.map((j) => [j.tag, j])), [p]);
  const laid = useMemo(
    () =>
      lanes.map((l) => ({
        l,
        frames: frames(l.acts).map((acts) => ({
          acts,
          key: acts.map(nameOf).join(' '),
          names: acts.map(nameOf),
          second: l.of === 'people' && acts.every((a) => a.people[0] !== l.name),
        })),
      })),
    [lanes],
  );
  return (
    <>
      {laid.map(({ l, frames }) => (
        <g key={`${l.of} ${l.name}`} transform={`translate(0 ${l.top + 2})`}>
          {frames.map((f) => (
            <Frame
              key={f.key}
              acts={f.acts}
              second={f.second}
              joint={joints.get(f.acts[0]?.tag ?? '')}
              parts={parts}
              r={r}
              now={now}
              chosen={f.names.includes(at) ? at : ''}
              inHand={f.names.includes(inHand) ? inHand : ''}
              onChoose={onChoose}
              onDown={onDown}
            />
          ))}
        </g>
      ))}
    </>
  );
});
