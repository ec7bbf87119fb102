import type { ProcedureCheck } from '../../api/client';
import { num, unitText } from '../../kit/numbers';

/** The limit of a check in words. */
export function limitText(c: ProcedureCheck): string {
  const u = c.unit ? ` ${unitText(c.unit)}` : '';
  switch (c.criterion) {
    case 'window':
      return `${num(c.low ?? 0, 3)} to ${num(c.limit ?? 0, 3)}${u}${c.temperature ? ' at 20 °C' : ''}`;
    case 'minimum':
      return `At least ${num(c.low ?? 0, 3)}${u}`;
    case 'remain':
      return c.low ? `At least ${num(c.low, 3)}${u} everywhere` : 'Something must remain everywhere';
    case 'count':
      return `Exactly ${num(c.low ?? 0)}`;
    case 'information':
      return 'For information, not judged';
    case 'roundness':
      return `At most ${num(c.limit ?? 0, 2)} % of the mean`;
    case 'flush':
      return `Flush within ${num(c.limit ?? 0, 3)}${u}`;
    case 'equal':
      return `May differ by ${num(c.limit ?? 0, 3)}${u}`;
  }
  return `Limit ${num(c.limit ?? 0, 2)}${u}`;
}
