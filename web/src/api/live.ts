import { useEffect, useRef, useState } from 'react';
import { api, type DeviceResult, must } from './client';

export interface LiveNote {
  topic: string;
  kind: string;
  data?: unknown;
}

/** Listens to a run, to tools and to shifts while the page is open. What was missed while there was no signal is asked for by onOpen. */
export function useLive(
  run: string | undefined,
  tools: string[],
  onNote: (n: LiveNote) => void,
  onOpen: () => void,
  more: { shifts: string[]; runs: string[] } = { shifts: [], runs: [] },
) {
  const latest = useRef({ onNote, onOpen });
  latest.current = { onNote, onOpen };
  const key = [...tools].sort().join(',');
  const others = [...more.shifts.map((c) => `shift ${c}`), ...[...more.runs].sort().map((r) => `run ${r}`)].join('\n');
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const topics: [string, string][] = [
      ...(run ? [['run', run] as [string, string]] : []),
      ...key
        .split(',')
        .filter(Boolean)
        .slice(0, 18) // the server takes twenty at most
        .map((t): [string, string] => ['tool', t]),
      ...others
        .split('\n')
        .filter(Boolean)
        .slice(0, 18)
        .map((o): [string, string] => {
          const at = o.indexOf(' ');
          return [o.slice(0, at), o.slice(at + 1)];
        }),
    ];
    if (topics.length === 0) return;
    const query = new URLSearchParams(topics);
    const source = new EventSource(`/api/live?${query}`);
    source.addEventListener('open', () => {
      setOpen(true);
      latest.current.onOpen();
    });
    source.addEventListener('note', (e) =>
      latest.current.onNote(JSON.parse((e as MessageEvent<string>).data) as LiveNote),
    );
    source.addEventListener('error', () => setOpen(false)); // the browser connects again by itself
    return () => source.close();
  }, [run, key, others]);
  return open;
}

/** The results of a linked tool after a number, and the last number; -1 asks for the last number alone. */
export const resultsAfter = (tag: string, after: number) =>
  must(api.GET('/tools/{tag}/results', { params: { path: { tag }, query: { after } } })) as Promise<{
    last: number;
    results: DeviceResult[];
  }>;
