/** A picture of a family, 356 px wide: cut, or taken apart, where its parts meet. */
export interface Picture {
  how: string; // cut along the tube, taken apart along one bolt
  height: number;
  shapes: Shape[];
  words?: [x: number, y: number, text: string][];
  parts: Part[]; // in the order of fitting
}

/** cut and cutB hatch neighbours apart, black seals or bites, open turns; line and axis are strokes, arrow moves or presses. */
export type Look = 'cut' | 'cutB' | 'black' | 'open' | 'paper' | 'line' | 'axis' | 'arrow';

export interface Shape {
  look: Look;
  d: string;
  part?: number; // which of the parts it belongs to, from 1
  mirror?: number; // drawn once more on the other side of this height
}

/** A part: its name, what it does, where its balloon stands and what it points to. */
export interface Part {
  name: string;
  does: string;
  at: [number, number];
  to: [number, number];
}

export const shape = (look: Look, d: string, part?: number, mirror?: number): Shape => ({
  look,
  d,
  ...(part ? { part } : {}),
  ...(mirror ? { mirror } : {}),
});

export const part = (name: string, does: string, x: number, y: number, px: number, py: number): Part => ({
  name,
  does,
  at: [x, y],
  to: [px, py],
});

/** A circle as a path. */
export const round = (x: number, y: number, r: number) =>
  `M${x - r} ${y}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0Z`;
