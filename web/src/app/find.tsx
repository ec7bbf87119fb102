import { Spotlight, type SpotlightActionData, spotlight } from '@mantine/spotlight';
import '@mantine/spotlight/styles.css';
import { useDebouncedValue } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { useNavigate } from '@tanstack/react-router';
import { useEffect, useState } from 'react';
import { api, must, useCrib } from '../api/client';
import { loadCalc, sheets } from '../core/calc';
import { Glyph } from '../rosette/Glyph';
import { openScan } from '../scan/takers';
import { nextLook } from './looks';

export const openFind = () => spotlight.open();

/** Find or do: a tag, a tool, a record, or an act. */
export function Find() {
  const [text, setText] = useState('');
  const [q] = useDebouncedValue(text.trim(), 150);
  const navigate = useNavigate();
  const [, setLoaded] = useState(false);
  useEffect(() => {
    if (q.length > 2) void loadCalc().then(() => setLoaded(true));
  }, [q]);
  const tools = useCrib();
  const joints = useQuery({
    queryKey: ['joints', 'find', q],
    queryFn: () => must(api.GET('/joints', { params: { query: { q, limit: 12 } } })),
    enabled: q.length > 0,
  });
  const records = useQuery({
    queryKey: ['records', 'find', q],
    queryFn: () => must(api.GET('/records', { params: { query: { q, limit: 5 } } })),
    enabled: q.length > 1,
  });
  const act = (id: string, label: string, description: string, onClick: () => void): SpotlightActionData => ({
    id,
    label,
    description,
    onClick,
  });
  const acts = [
    act('today', 'Today', 'what waits on you', () => void navigate({ to: '/' })),
    act(
      'due',
      'Falls due',
      'what is to be done by when, as a calendar and by mail',
      () => void navigate({ to: '/due' }),
    ),
    act('walk', 'Walk-round', 'what waits for your eyes, along the plant', () => void navigate({ to: '/walk' })),
    act('shift', 'Shift', 'who does what with which tool by when', () => void navigate({ to: '/shift' })),
    act('joints', 'Joints', 'the register', () => void navigate({ to: '/joints' })),
    act('new', 'New joint', 'enter a single joint', () => void navigate({ to: '/joints/new' })),
    act('import', 'Import a register', 'joints from a CSV file', () => void navigate({ to: '/joints/import' })),
    act(
      'tests',
      'Tests under pressure',
      'water, air, vacuum, gas, purge',
      () => void navigate({ to: '/joints/tests' }),
    ),
    act('numbers', 'Numbers', 'how the pulls of the site lie', () => void navigate({ to: '/numbers' })),
    act('books', 'Hand-over books', 'the book of each work package', () => void navigate({ to: '/books' })),
    act('crib', 'Crib', 'tools and certificates', () => void navigate({ to: '/crib' })),
    act(
      'find-tools',
      'Find a set-up',
      'which tools give a torque',
      () => void navigate({ to: '/crib', search: { view: 'find' } }),
    ),
    act(
      'rechecks',
      'Joints in doubt',
      'to look at again',
      () => void navigate({ to: '/crib', search: { view: 'doubts' } }),
    ),
    act('bench', 'Bench', 'one calculation, in seconds', () => void navigate({ to: '/bench' })),
    act('lab', 'Lab', 'what each bolt does while its neighbours are tightened', () => void navigate({ to: '/lab' })),
    act('library', 'Library', 'lubricants, materials, threads', () => void navigate({ to: '/library' })),
    act('records', 'Records', 'sealed records', () => void navigate({ to: '/records' })),
    act('verify', 'Verify a record', 'check a file somebody brought', () => void navigate({ to: '/verify' })),
    act('scan', 'Scan a code', 'of a joint, tool, tin, record or person', () => openScan()),
    act('labels', 'Labels', 'with a code, for tools, joints, tins and people', () => void navigate({ to: '/labels' })),
    act('look', 'Day, glare, night', 'change the look', nextLook),
  ].filter((a) => q === '' || `${a.label} ${a.description}`.toLowerCase().includes(q.toLowerCase()));
  const actions = [
    ...(joints.data?.rows.map((j) => ({
      ...act(
        `j-${j.tag}`,
        j.tag,
        `${j.name}, ${j.make}`,
        () => void navigate({ to: '/joints/$tag', params: { tag: j.tag } }),
      ),
      leftSection: <Glyph family={j.family} count={j.bolts} state={j.glyph} size={28} />,
    })) ?? []),
    ...(tools.data?.tools
      .filter((t) => q && `${t.tool.tag} ${t.name}`.toLowerCase().includes(q.toLowerCase()))
      .slice(0, 12)
      .map((t) =>
        act(`t-${t.tool.tag}`, t.tool.tag, t.name, () => void navigate({ to: '/crib', search: { tool: t.tool.tag } })),
      ) ?? []),
    ...(records.data?.rows.map((r) =>
      act(
        `r-${r.number}`,
        r.number,
        `${r.tag} ${r.name}, ${r.target}`,
        () => void navigate({ to: '/records/$number', params: { number: r.number } }),
      ),
    ) ?? []),
    ...(q.length > 2 ? sheets(q).slice(0, 5) : []).map((s) =>
      act(
        `s-${s.name}`,
        s.title,
        `Bench, ${s.group.toLowerCase()}`,
        () => void navigate({ to: '/bench/$name', params: { name: s.name } }),
      ),
    ),
    ...acts,
  ];
  return (
    <Spotlight
      shortcut="mod + K"
      query={text}
      onQueryChange={setText}
      actions={actions}
      filter={(_, all) => all}
      nothingFound={`Nothing by the name of “${q}”. Try a tag, a part of a name, or a tool.`}
      searchProps={{
        placeholder: 'Tag, tool, record, or what to do',
        'aria-label': 'Find or do',
        onKeyDown: (e) => {
          // Answers come in after the typing: Enter then takes the first, without an arrow key before it.
          const first = actions[0];
          if (e.key !== 'Enter' || !first || document.querySelector('.mantine-Spotlight-action[data-selected]')) return;
          e.preventDefault();
          first.onClick?.(e as unknown as React.MouseEvent<HTMLButtonElement>);
          spotlight.close();
        },
      }}
      highlightQuery={false}
      scrollable
      maxHeight={420}
    />
  );
}
