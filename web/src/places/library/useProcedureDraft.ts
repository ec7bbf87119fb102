import { useDebouncedValue } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, type Family, must, type ProcedureDetail } from '../../api/client';
import { sketches } from '../joint/sketches';
import { twoWays } from '../joint/twoWays';
import { checkBoxes, fastenerBoxes, generalBoxes, stepBoxes } from './procedureFields';

type Plain = Record<string, unknown>;
type ListKey = 'work' | 'checks' | 'fasteners';
interface Spot {
  list: ListKey | 'general';
  code: string;
}

const drawn = ['cradle', 'lubricate', 'numbering', 'layout', ...Object.keys(sketches), ...Object.keys(twoWays)];

/** A site's own version of a procedure while it is written: the whole, the part that is open, and what is wrong with it. */
export function useProcedureDraft(detail: ProcedureDetail, onKept: (code: string, version: number) => void) {
  const code = detail.family.code;
  const [family, setFamily] = useState<Family>(detail.family);
  const [text, setText] = useState<string>(); // as YAML, while it is written by hand
  const [spot, setSpot] = useState<Spot>({ list: 'general', code: '' });
  const [past, setPast] = useState<Family[]>([]);
  const [reason, setReason] = useState('');
  const [wrong, setWrong] = useState('');
  const [busy, setBusy] = useState(false);
  const [source] = useDebouncedValue(text ?? JSON.stringify(family), 350);
  const trial = useQuery({
    queryKey: ['library', 'try', code, source],
    queryFn: () =>
      must(api.POST('/procedures/{code}/try', { params: { path: { code } }, body: { yaml: source, reason: '' } })),
    placeholderData: (last) => last,
    retry: false,
  });
  const faults = trial.data?.faults ?? [];
  /** A text with a code of its own begins a family of its own. */
  const own = (text !== undefined && trial.data?.family?.code) || code;
  const put = (next: Family) => {
    setPast((p) => [...p.slice(-49), family]);
    setFamily(next);
  };
  const base = spot.list === 'general' ? '' : `${spot.list}.${spot.code}`;
  const chosen = (
    spot.list === 'general' ? family : (family[spot.list] as { code: string }[]).find((x) => x.code === spot.code)
  ) as Plain | undefined;
  const boxes =
    spot.list === 'checks'
      ? checkBoxes(family, drawn)
      : spot.list === 'work'
        ? stepBoxes(family)
        : spot.list === 'fasteners'
          ? fastenerBoxes()
          : generalBoxes();
  function change(key: string, value: unknown) {
    const write = (o: Plain): Plain => {
      const next = { ...o, [key]: value };
      if (value === '' || value === undefined || value === false || (Array.isArray(value) && value.length === 0))
        delete next[key];
      if (spot.list === 'checks' && (key === 'row' || key === 'before' || key === 'after')) {
        const row = family.rows.find((g) => g.code === next.row);
        if (row) next.station = row.station;
      }
      return next;
    };
    if (spot.list === 'general') put(write(family as unknown as Plain) as unknown as Family);
    else
      put({
        ...family,
        [spot.list]: (family[spot.list] as unknown as Plain[]).map((x) => (x.code === spot.code ? write(x) : x)),
      });
  }
  function move(by: number) {
    if (spot.list === 'general') return;
    const list = [...(family[spot.list] as { code: string }[])];
    const at = list.findIndex((x) => x.code === spot.code);
    const to = at + by;
    if (at < 0 || to < 0 || to >= list.length) return;
    const [x] = list.splice(at, 1);
    if (x) list.splice(to, 0, x);
    put({ ...family, [spot.list]: list });
  }
  function remove() {
    if (spot.list === 'general') return;
    put({ ...family, [spot.list]: (family[spot.list] as { code: string }[]).filter((x) => x.code !== spot.code) });
    setSpot({ list: 'general', code: '' });
  }
  function add(list: 'work' | 'checks') {
    const have = new Set((family[list] as { code: string }[]).map((x) => x.code));
    let i = 1;
    while (have.has(`own_${i}`)) i++;
    const own = `own_${i}`;
    if (list === 'checks') {
      const row = family.rows[0];
      const check = {
        code: own,
        station: row?.station ?? 'ready',
        row: row?.code ?? '',
        kind: 'confirm' as const,
        title: 'New check',
        ask: '',
        why: '',
      };
      put({ ...family, checks: [...family.checks, check] });
    } else
      put({
        ...family,
        work: [
          ...family.work,
          { code: own, do: 'hand' as const, groups: [family.fasteners[0]?.code ?? ''], name: 'new step' },
        ],
      });
    setSpot({ list, code: own });
  }
  async function keep() {
    setBusy(true);
    setWrong('');
    try {
      const d = await must(
        api.PUT('/procedures/{code}', {
          params: { path: { code: own } },
          body: { yaml: text ?? JSON.stringify(family), reason },
        }),
      );
      onKept(own, d.family.version);
    } catch (e) {
      setWrong((e as Error).message);
    } finally {
      setBusy(false);
    }
  }
  const faultOf = (key: string) => faults.find((x) => x.path === (base ? `${base}.${key}` : key));
  function undo() {
    const last = past.at(-1);
    if (!last) return;
    setFamily(last);
    setPast(past.slice(0, -1));
  }
  return {
    own,
    family,
    text,
    setText,
    spot,
    setSpot,
    past,
    undo,
    reason,
    setReason,
    wrong,
    setWrong,
    busy,
    trial,
    faults,
    base,
    chosen,
    boxes,
    put,
    change,
    move,
    remove,
    add,
    keep,
    faultOf,
  };
}
