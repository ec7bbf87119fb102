import { useQuery, useQueryClient } from '@tanstack/react-query';
import { createContext, type ReactNode, useContext, useMemo } from 'react';
import { api, must, NoSignal, type Person, type Session } from './client';
import { outbox } from './device';
import { proveDevice } from './deviceKey';

interface SessionValue {
  person: Person | undefined;
  session: Session | undefined;
  loading: boolean;
  /** Whether the one signed in may do something: an operation of the contract, or an act, by its name. The server decides; this only saves a refusal. */
  may(what: string): boolean;
  signIn(personId: string, pin: string, newPin?: string): Promise<void>;
  signOut(): Promise<void>;
}

const Context = createContext<SessionValue | undefined>(undefined);
const kept = 'session';

/** Who is signed in. Without network the one who was signed in last stays at work on this device. */
export function SessionProvider({ children }: { children: ReactNode }) {
  const qc = useQueryClient();
  const q = useQuery({
    queryKey: ['session'],
    queryFn: async () => {
      try {
        const s = await must(api.GET('/session'));
        localStorage.setItem(kept, JSON.stringify(s));
        return s;
      } catch (e) {
        const last = localStorage.getItem(kept);
        if (e instanceof NoSignal && last) return JSON.parse(last) as Session;
        throw e;
      }
    },
    staleTime: 60_000,
  });
  const value = useMemo<SessionValue>(() => {
    const put = (s: Session) => {
      localStorage.setItem(kept, JSON.stringify(s));
      qc.setQueryData(['session'], s);
      void qc.invalidateQueries({ predicate: (x) => x.queryKey[0] !== 'session' });
    };
    return {
      person: q.data?.person,
      session: q.data,
      loading: q.isPending,
      may: (what) => q.data?.may?.includes(what) ?? false,
      async signIn(personId, pin, newPin) {
        await outbox.wake(); // what the one before recorded goes first, under their name
        put(
          await must(
            api.POST('/session', {
              body: { personId, pin, ...(newPin ? { newPin } : {}), ...(await proveDevice(personId)) },
            }),
          ),
        );
        void outbox.wake(); // what waited for somebody to be signed in
      },
      async signOut() {
        await outbox.wake();
        put(await must(api.DELETE('/session')));
      },
    };
  }, [q.data, q.isPending, qc]);
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

export function useSession(): SessionValue {
  const v = useContext(Context);
  if (!v) throw new Error('useSession outside SessionProvider');
  return v;
}
