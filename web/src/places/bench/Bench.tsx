import { TextInput } from '@mantine/core';
import { useHotkeys } from '@mantine/hooks';
import { getRouteApi, Link } from '@tanstack/react-router';
import { useRef } from 'react';
import { type Sheet, sheets, useCalc } from '../../core/calc';
import './bench.css';
import { useRecent } from './recent';

const route = getRouteApi('/bench');

/** Every calculation by its trade words: type a few, press Enter, and the sheet is open. */
export function BenchPlace() {
  const { q = '' } = route.useSearch();
  const navigate = route.useNavigate();
  const all = useCalc();
  const [recent] = useRecent();
  const box = useRef<HTMLInputElement>(null);
  useHotkeys([['f', () => box.current?.focus()]]);
  if (!all.data)
    return (
      <p className="empty">
        {all.isError ? 'The calculations did not load. Reload when there is signal.' : 'One moment.'}
      </p>
    );
  const found = q ? sheets(q) : all.data;
  const groups = new Map<string, Sheet[]>();
  for (const s of found) groups.set(s.group, [...(groups.get(s.group) ?? []), s]);
  const first = found[0];
  return (
    <div className="bench-index">
      <div className="bench-top">
        <h1 className="title">Bench</h1>
        <TextInput
          ref={box}
          autoFocus
          size="md"
          className="bench-find"
          aria-label="What do you want to work out"
          placeholder="pump pressure, crowfoot, how hot for the bearing"
          value={q}
          onChange={(e) => void navigate({ search: { q: e.currentTarget.value || undefined }, replace: true })}
          onKeyDown={(e) => {
            if (e.key === 'Enter' && first) void navigate({ to: '/bench/$name', params: { name: first.name } });
            if (e.key === 'Escape') void navigate({ search: {}, replace: true });
          }}
        />
        <span className="dim" role="status">
          {q ? `${found.length} of ${all.data.length}` : `${all.data.length} calculations`}
        </span>
      </div>
      {!q && recent.length > 0 && (
        <section>
          <div className="rule">Last open here</div>
          <div className="bench-recent">
            {recent.map((k) => (
              <Link key={k.name} to="/bench/$name" params={{ name: k.name }} search={{ in: k.values, units: k.units }}>
                {k.title}
              </Link>
            ))}
          </div>
        </section>
      )}
      {found.length === 0 && (
        <p className="empty">
          Nothing is called “{q}”. Try the thing you have in hand: wrench, gap, pump, hub.
          <button type="button" className="btn sm" onClick={() => void navigate({ search: {}, replace: true })}>
            Show all
          </button>
        </p>
      )}
      {q ? (
        <ul className="bench-found">
          {found.map((s, i) => (
            <li key={s.name}>
              <Link to="/bench/$name" params={{ name: s.name }}>
                <b>{s.title}</b> <span>{s.words}</span>
                {i === 0 && <kbd>Enter</kbd>}
              </Link>
            </li>
          ))}
        </ul>
      ) : (
        <div className="bench-groups">
          {[...groups].map(([name, list]) => (
            <section key={name}>
              <div className="rule">{name}</div>
              <ul>
                {list.map((s) => (
                  <li key={s.name}>
                    <Link to="/bench/$name" params={{ name: s.name }}>
                      {s.title}
                    </Link>
                  </li>
                ))}
              </ul>
            </section>
          ))}
        </div>
      )}
    </div>
  );
}
