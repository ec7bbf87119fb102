/** The orders by their codes, as people call them; eighths are quarters taken finer. */
export const patterns = [
  { value: 'cross', label: 'Cross' },
  { value: 'group', label: 'Quarters' },
  { value: 'group8', label: 'Eighths' },
  { value: 'clockwise', label: 'Clockwise' },
  { value: 'pairs', label: 'Pair by pair' },
  { value: 'cardinal', label: 'Four quarters first' },
  { value: 'outward', label: 'Middle outward' },
  { value: 'from_stiff', label: 'Stiff edge to free end' },
  { value: 'alternate_two', label: 'In turn' },
  { value: 'chosen', label: 'As written down' },
];

/** An order in a word. */
export const orderWord = (pattern: string, groups: number | undefined) =>
  pattern === 'group'
    ? groups === 8
      ? 'eighths'
      : 'quarters'
    : (patterns.find((p) => p.value === pattern)?.label.toLowerCase() ?? pattern);

/** The stages to choose from. */
export const schemeData = [
  { value: '20_60_100', label: '20, 60, 100 %' },
  { value: '30_70_100', label: '30, 70, 100 %' },
  { value: '50_80_100', label: '50, 80, 100 %' },
  { value: 'thirds', label: 'thirds' },
  { value: 'snug_final', label: 'snug, full' },
  { value: 'half_full', label: 'half, full' },
  { value: 'single', label: 'at once' },
];
