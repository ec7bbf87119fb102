import type { RunEvent } from '../api/client';

const kinds: Record<RunEvent['kind'], string> = {
  read_confirmed: 'plan read',
  check_answered: 'answer to a check',
  wrench_taken: 'tool taken',
  setting_confirmed: 'setting confirmed',
  pulled: 'pull',
  skipped: 'left for later',
  taken_back: 'entry taken back',
  loosened: 'loosened',
  paused: 'pause',
  held: 'stop',
  released: 'stop lifted',
  deviation_raised: 'deviation raised',
  noted: 'note',
  signed: 'signature',
  tool_doubted: 'tool put in doubt',
  part_changed: 'part changed',
};

/** What an entry is, in a few words, for a list of entries. */
export const eventWords = (e: RunEvent) =>
  `${kinds[e.kind]}${e.fastener ? `, position ${e.fastener}, pass ${e.pass}` : ''}`;
