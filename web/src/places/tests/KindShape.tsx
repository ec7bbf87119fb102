import type { PressureTestKind } from '../../api/client';

/** The shape of a test's trace, by which its kind is told. */
export const shapes: Record<PressureTestKind, string> = {
  hydrostatic: 'M0 18H5L11 2H28',
  pneumatic: 'M0 18H5V14H10V10H15V6H20V2H28',
  vacuum: 'M0 2H7L13 18H28',
  precharge: 'M0 18L8 6Q12 2 16 4L28 7',
  purge: 'M0 10H4L8 2L14 18L20 2L24 10H28',
};

export function KindShape({ kind, word }: { kind: PressureTestKind; word: string }) {
  return (
    <span className="kind-shape">
      <svg width="30" height="20" viewBox="-1 0 30 20" aria-hidden="true">
        <path d={shapes[kind]} style={{ fill: 'none', stroke: 'currentColor', strokeWidth: 2.2 }} />
      </svg>
      {word}
    </span>
  );
}
