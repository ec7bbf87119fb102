import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { getRouteApi } from '@tanstack/react-router';
import { useEffect, useState } from 'react';
import { api, must, type ShiftAsk, usePackages } from '../../api/client';
import { useLive } from '../../api/live';
import { constraintsOf, useChangeConstraints } from './useConstraints';

const route = getRouteApi('/shift');

/** What is asked, the plan in force, the one that is planned now, and how far the one in force has come. */
export function useShift() {
  const search = route.useSearch();
  const navigate = route.useNavigate();
  const packages = usePackages();
  const qc = useQueryClient();
  const [longer, setLonger] = useState(false);
  const code = search.package ?? packages.data?.[0]?.code;
  const path = { code: code ?? '' };
  const force = useQuery({
    queryKey: ['shift in force', code],
    queryFn: () => must(api.GET('/packages/{code}/shift/in-force', { params: { path } })),
    enabled: !!code,
  });
  const held = force.data && force.data.version > 0 ? force.data : undefined;
  const asked = held?.ask.shift;
  const ask = {
    day: search.day ?? held?.ask.day ?? tomorrow(),
    days: search.days ?? held?.ask.days ?? 1,
    from: search.from ?? asked?.from ?? '07:00',
    to: search.to ?? asked?.to ?? '15:30',
    breakFrom: search.breakFrom ?? asked?.breakFrom ?? '12:00',
    breakTo: search.breakTo ?? asked?.breakTo ?? '12:30',
  };
  const set = (change: Partial<typeof search>) =>
    void navigate({ search: (old) => ({ ...old, ...change }), replace: true });
  // What is asked otherwise than the plan in force is planned anew; so is the same, when somebody says so.
  const same =
    held &&
    ask.day === held.ask.day &&
    ask.days === held.ask.days &&
    (['from', 'to', 'breakFrom', 'breakTo'] as const).every((k) => ask[k] === asked?.[k]);
  const fresh = !same || search.anew === true;
  const plan = useQuery({
    queryKey: ['shift', code, ask, longer],
    queryFn: () => must(api.GET('/packages/{code}/shift', { params: { path, query: { ...ask, longer } } })),
    enabled: !!code && force.isSuccess && fresh,
    placeholderData: (last) => last,
    staleTime: 60_000,
    retry: false,
  });
  const stands = useQuery({
    queryKey: ['shift stands', code],
    queryFn: () => must(api.GET('/packages/{code}/shift/stands', { params: { path } })),
    enabled: !!code && !!held,
    refetchInterval: 60_000, // the clock goes on
  });
  const constraints = useQuery(constraintsOf(code));
  // What happens at the joints is heard at once on every open page.
  const runs = (stands.data?.joints ?? []).map((j) => j.runId).filter(Boolean);
  const look = () => {
    for (const key of ['shift in force', 'shift stands', 'constraints', 'shift'])
      void qc.invalidateQueries({ queryKey: [key, code] });
  };
  const online = useLive(undefined, [], look, () => void qc.invalidateQueries({ queryKey: ['shift stands', code] }), {
    shifts: code ? [code] : [],
    runs,
  });
  const wholeAsk = (): ShiftAsk => {
    const { day, days, ...shift } = ask;
    return { day, days, shift, longer };
  };
  const take = useMutation({
    mutationFn: () =>
      must(
        api.PUT('/packages/{code}/shift/in-force', {
          params: { path, query: { after: force.data?.version ?? 0 } },
          body: wholeAsk(),
        }),
      ),
    onSuccess: (f) => {
      qc.setQueryData(['shift in force', code], f);
      void qc.invalidateQueries({ queryKey: ['today'] });
      void qc.invalidateQueries({ queryKey: ['shift stands', code] });
      set({ anew: undefined });
    },
  });
  const change = useChangeConstraints(code, constraints.data?.version, () => set({ anew: true }));
  return {
    search,
    set,
    navigate,
    packages,
    code,
    ask,
    wholeAsk,
    held,
    fresh,
    plan,
    stands,
    constraints,
    online,
    take,
    change,
    longer,
    setLonger,
    shown: fresh ? plan.data : held?.plan,
  };
}

export type ShiftData = ReturnType<typeof useShift>;

function tomorrow(): string {
  const d = new Date();
  d.setDate(d.getDate() + 1);
  return `${d.getFullYear()}-${String(d.getMonth() + 1).padStart(2, '0')}-${String(d.getDate()).padStart(2, '0')}`;
}

/** The present minute. */
export function useNow() {
  const [now, setNow] = useState(Date.now);
  useEffect(() => {
    const t = setInterval(() => setNow(Date.now()), 20_000);
    return () => clearInterval(t);
  }, []);
  return now;
}
