import type { Family } from '../../api/client';

/** One box of the form for a part of a procedure. */
export interface Box {
  key: string;
  label: string;
  kind: 'text' | 'long' | 'lines' | 'number' | 'numbers' | 'choice' | 'many' | 'yes';
  choices?: [string, string][];
  only?: (v: Record<string, unknown>) => boolean;
}

const words = (list: readonly string[]): [string, string][] => list.map((x) => [x, x.replaceAll('_', ' ')]);
const none: [string, string] = ['', 'none'];

export const checkKinds = [
  'confirm',
  'condition',
  'measure',
  'lubricant',
  'parts',
  'wrench',
  'orientation',
  'match',
  'sequence',
  'clock',
  'temporary',
  'test',
  'responsible',
] as const;
const criteria = [
  'spread',
  'offset',
  'maximum',
  'minimum',
  'remain',
  'equal',
  'flush',
  'window',
  'roundness',
  'count',
  'information',
] as const;
const dos = [
  'hand',
  'torque',
  'still',
  'verify',
  'turn',
  'turns',
  'shape',
  'effort',
  'stretch',
  'leave',
  'undo',
] as const;
const patterns = [
  'cross',
  'group',
  'clockwise',
  'alternate_two',
  'cardinal',
  'pairs',
  'outward',
  'from_stiff',
  'chosen',
] as const;
const targets = ['torque', 'turns', 'snug', 'hand', 'shape', 'effort', 'stretch', 'none'] as const;

const is =
  (key: string, ...values: string[]) =>
  (v: Record<string, unknown>) =>
    values.includes(String(v[key] ?? ''));

/** The boxes of a check. What a kind does not use is not shown. */
export const checkBoxes = (f: Family, sketches: string[]): Box[] => {
  const steps: [string, string][] = [none, ...f.work.map((w): [string, string] => [w.code, w.name ?? w.code])];
  const temperatures = f.checks.filter((c) => c.unit === 'C').map((c): [string, string] => [c.code, c.title]);
  const figures: [string, string][] = [none, ...(f.figures ?? []).map((x): [string, string] => [x.code, x.name])];
  return [
    { key: 'title', label: 'Title', kind: 'text' },
    { key: 'kind', label: 'Answered with', kind: 'choice', choices: words(checkKinds) },
    {
      key: 'row',
      label: 'Row',
      kind: 'choice',
      choices: f.rows.map((g) => [g.code, `${g.title} (${g.station.replace('_', ' ')})`]),
    },
    { key: 'ask', label: 'What is asked', kind: 'long' },
    { key: 'why', label: 'Why', kind: 'long' },
    {
      key: 'expect',
      label: 'Which way it must face, or what must be seen',
      kind: 'long',
      only: is('kind', 'orientation'),
    },
    { key: 'sketch', label: 'Drawing', kind: 'choice', choices: [none, ...words(sketches)] },
    { key: 'criterion', label: 'Judged by', kind: 'choice', choices: words(criteria), only: is('kind', 'measure') },
    { key: 'unit', label: 'Unit', kind: 'text', only: is('kind', 'measure', 'test') },
    { key: 'stations', label: 'Numbers of readings', kind: 'numbers', only: is('kind', 'measure') },
    { key: 'names', label: 'Or names of the readings, one a line', kind: 'lines', only: is('kind', 'measure') },
    { key: 'limit', label: 'Upper limit', kind: 'number', only: is('kind', 'measure') },
    { key: 'low', label: 'Lower limit', kind: 'number', only: is('kind', 'measure', 'test') },
    {
      key: 'highFigure',
      label: 'Upper limit is the figure',
      kind: 'choice',
      choices: figures,
      only: is('kind', 'measure'),
    },
    {
      key: 'lowFigure',
      label: 'Lower limit is the figure',
      kind: 'choice',
      choices: figures,
      only: is('kind', 'measure', 'test'),
    },
    {
      key: 'temperature',
      label: 'A gas, whose temperature is read by',
      kind: 'choice',
      choices: [none, ...temperatures],
      only: is('kind', 'measure'),
    },
    {
      key: 'limitKey',
      label: 'Or a limit of the house rules',
      kind: 'choice',
      choices: [none, ...words(['alignment_gap', 'rim_offset', 'hole_overlap', 'proof_gap'])],
      only: is('kind', 'measure'),
    },
    { key: 'items', label: 'In this order, one a line', kind: 'lines', only: is('kind', 'sequence') },
    { key: 'fromHour', label: 'Allowed from, o’clock', kind: 'number', only: is('kind', 'clock') },
    { key: 'toHour', label: 'Allowed to, o’clock', kind: 'number', only: is('kind', 'clock') },
    { key: 'item', label: 'What goes in and comes out', kind: 'text', only: is('kind', 'temporary') },
    { key: 'want', label: 'Must be', kind: 'choice', choices: words(['in', 'out']), only: is('kind', 'temporary') },
    { key: 'ways', label: 'What may be chosen, one a line', kind: 'lines', only: is('kind', 'responsible') },
    { key: 'do', label: 'Ways that are right, one a line', kind: 'lines' },
    { key: 'dont', label: 'Ways that are forbidden, one a line', kind: 'lines' },
    { key: 'caution', label: 'Caution before it', kind: 'long' },
    { key: 'cause', label: 'Probable cause when it fails', kind: 'long' },
    { key: 'remedy', label: 'What to do then', kind: 'long' },
    { key: 'before', label: 'Asked before the step', kind: 'choice', choices: steps },
    { key: 'after', label: 'Or after the step', kind: 'choice', choices: steps },
    {
      key: 'reopens',
      label: 'What is done again when it fails',
      kind: 'many',
      choices: [
        ['check_pass', 'check round'],
        ...f.work.map((w): [string, string] => [w.code, w.name ?? w.code]),
        ...f.checks.map((c): [string, string] => [c.code, c.title]),
      ],
    },
    { key: 'hold', label: 'A hold: must be signed', kind: 'yes' },
    { key: 'twoPerson', label: 'By two people', kind: 'yes' },
    { key: 'photo', label: 'With a photo', kind: 'yes' },
    {
      key: 'waive',
      label: 'Whose word it takes that it does not apply',
      kind: 'choice',
      choices: [
        ['', 'an engineer’s'],
        ['technician', 'that of whoever does the work'],
        ['nobody', 'nobody’s: it is always answered'],
      ],
      only: (c) => !c.hold,
    },
    { key: 'each', label: 'Asked anew at each pass of its step', kind: 'yes' },
    { key: 'lifeMinutes', label: 'Lasts so many minutes', kind: 'number' },
  ];
};

export const stepBoxes = (f: Family): Box[] => [
  { key: 'name', label: 'Name', kind: 'text' },
  { key: 'do', label: 'What is done', kind: 'choice', choices: words(dos) },
  { key: 'groups', label: 'To', kind: 'many', choices: f.fasteners.map((g) => [g.code, g.name]) },
  { key: 'until', label: 'Until', kind: 'long' },
  { key: 'pattern', label: 'Order', kind: 'choice', choices: [['', 'as the group'], ...words(patterns)] },
  {
    key: 'scheme',
    label: 'Stages',
    kind: 'choice',
    choices: [
      ['', 'as the group'],
      ...words(['20_60_100', '30_70_100', '50_80_100', 'thirds', 'half_full', 'single', 'snug_final']),
    ],
    only: is('do', 'torque'),
  },
  {
    key: 'only',
    label: 'Which of them',
    kind: 'choice',
    choices: [
      ['', 'all'],
      ['cardinal', 'the four at right angles'],
      ['rest', 'the rest'],
    ],
  },
  { key: 'turnDeg', label: 'Turn, degrees', kind: 'number', only: is('do', 'turn', 'turns') },
  {
    key: 'turnFigure',
    label: 'Or the figure',
    kind: 'choice',
    choices: [none, ...(f.figures ?? []).map((x): [string, string] => [x.code, x.name])],
    only: is('do', 'turn'),
  },
  { key: 'datum', label: 'Counted from', kind: 'text', only: is('do', 'turn', 'turns') },
  { key: 'why', label: 'Why', kind: 'long' },
  { key: 'caution', label: 'Caution', kind: 'long' },
  { key: 'opens', label: 'It opens', kind: 'text' },
];

export const fastenerBoxes = (): Box[] => [
  { key: 'name', label: 'Name', kind: 'text' },
  { key: 'noun', label: 'One is called', kind: 'text' },
  { key: 'target', label: 'Ends at', kind: 'choice', choices: words(targets) },
  { key: 'targetWhy', label: 'Why', kind: 'long' },
  { key: 'patterns', label: 'Orders allowed', kind: 'many', choices: words(patterns) },
  {
    key: 'scheme',
    label: 'Stages',
    kind: 'choice',
    choices: [
      ['', 'as the house rules say'],
      ...words(['20_60_100', '30_70_100', '50_80_100', 'thirds', 'half_full', 'single', 'snug_final']),
    ],
  },
  { key: 'snug', label: 'Snug means', kind: 'long' },
  {
    key: 'condition',
    label: 'Threads',
    kind: 'choice',
    choices: [['', 'as the document says'], ...words(['dry', 'dry_or_maker', 'degreased', 'lubricated', 'locker'])],
  },
  { key: 'where', label: 'Where the lubricant goes, or must not', kind: 'long' },
];

export const generalBoxes = (): Box[] => [
  { key: 'name', label: 'Name', kind: 'text' },
  { key: 'looks', label: 'What it looks like', kind: 'long' },
  { key: 'words', label: 'Other words for it, one a line', kind: 'lines' },
  { key: 'cautions', label: 'Cautions, one a line', kind: 'lines' },
  { key: 'loosen', label: 'Taking apart, one a line', kind: 'lines' },
  { key: 'loosenGate', label: 'Confirmed before the first is let go, one a line', kind: 'lines' },
  { key: 'tools', label: 'Tools beside those that tighten, one a line', kind: 'lines' },
  { key: 'minutes', label: 'Minutes before and after', kind: 'number' },
];
