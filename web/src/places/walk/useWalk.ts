import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { useSync } from '../../api/device';
import { looks, useLooks } from '../../api/looks';
import { useSession } from '../../api/session';
import { loadCore } from '../../core/core';

const [fresh, soon] = [60_000, 10_000];

/** Asked again soon while there is no signal. */
const often = {
  refetchInterval: (q: { state: { data?: { asOf: string | undefined }; status: string } }) =>
    q.state.data?.asOf || q.state.status === 'error' ? soon : fresh,
  refetchOnReconnect: true,
};

/** The round as the server tells it, or without signal as it was taken along; asked anew as soon as the signal goes or comes. */
export function useWalkRound() {
  const qc = useQueryClient();
  const there = useSync().since === undefined;
  const was = useRef(there);
  useEffect(() => {
    if (was.current !== there) void qc.invalidateQueries({ queryKey: ['walk'] });
    was.current = there;
  }, [there, qc]);
  return useQuery({ queryKey: ['walk'], queryFn: () => looks.round(), ...often });
}

/** A joint of the walk, told as the round is. */
export const useWalkJoint = (tag: string) =>
  useQuery({ queryKey: ['walk', tag], queryFn: () => looks.joint(tag), ...often });

/** What the walk tells is asked for again: something was signed. */
export function useSaidAnew() {
  const qc = useQueryClient();
  return () => {
    for (const key of ['walk', 'plant-notes']) void qc.invalidateQueries({ queryKey: [key] });
  };
}

/** What was taken along, taken again when it is old; and the rules, which judge answers without signal. */
export function useTakenAlong() {
  useEffect(() => void loadCore().catch(() => undefined), []);
  return useQuery({
    queryKey: ['walk-along'],
    queryFn: () => looks.takeAlong(),
    staleTime: 600_000,
    refetchInterval: 600_000,
  });
}

/** The looks of whoever is signed in that are not signed, and how many wait here for others. */
export function useUnsigned() {
  const { person } = useSession();
  const all = useLooks();
  const own = all.filter((l) => l.by === person?.id);
  return { own, others: all.length - own.length };
}
