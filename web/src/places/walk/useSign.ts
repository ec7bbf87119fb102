import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { NoSignal } from '../../api/client';
import type { KeptLook } from '../../api/kept';
import { looks } from '../../api/looks';
import { useSaidAnew } from './useWalk';

/** What is refused of a look, and of which answer. */
export class NotTaken extends Error {
  constructor(
    message: string,
    readonly field: string,
  ) {
    super(message);
  }
}

/**
 * Signs what somebody saw by their PIN. Unsigned: it is kept on the device, to be signed with the others of the walk, and so it is when the signal
 * goes while it is sent.
 */
export function useSign(unsigned: boolean, onDone: (next: string | undefined) => void) {
  const anew = useSaidAnew();
  const [pin, setPIN] = useState('');
  const sign = useMutation({
    mutationFn: async (take: () => KeptLook) => {
      const now = take();
      if (unsigned) return looks.keep(now).then(() => undefined);
      try {
        const [got] = await looks.sign([now], pin);
        if (got?.refused) throw new NotTaken(got.refused, got.field);
        return got?.joint?.next;
      } catch (e) {
        if (!(e instanceof NoSignal)) throw e;
        await looks.keep(now); // it may have arrived: signed again, it is the same look
        return undefined;
      }
    },
    onSuccess: (next) => {
      anew();
      onDone(next); // at once: whoever has gone on meanwhile is not taken back
    },
    onError: () => {
      setPIN('');
      anew(); // more may have been added behind the record
    },
  });
  return { pin, setPIN, sign, field: sign.error instanceof NotTaken ? sign.error.field : undefined };
}
