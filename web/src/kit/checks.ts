import type { CheckState } from '../api/client';

/** Whether nothing more is asked of a check. */
export const settled = (status: CheckState['status']) =>
  status === 'cleared' || status === 'by_leave' || status === 'waived';
