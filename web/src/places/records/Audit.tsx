import { TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useInfiniteQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, must } from '../../api/client';
import { AuditTable } from '../../kit/AuditTable';
import './keys.css';

/** What records lean on and who changed it: people, tools, joints, specifications, rules, procedures, keys; sign-ins and exports. */
export function AuditPage() {
  const [text, setText] = useState('');
  const [q] = useDebouncedValue(text, 200);
  const list = useInfiniteQuery({
    queryKey: ['audit', q],
    queryFn: ({ pageParam }) => must(api.GET('/audit', { params: { query: { q, below: pageParam } } })),
    initialPageParam: 0,
    getNextPageParam: (last) => (last.length >= 200 ? last.at(-1)?.id : undefined),
  });
  const rows = list.data?.pages.flat() ?? [];
  return (
    <div className="page audit-page">
      <div className="row-btns" style={{ marginTop: 0 }}>
        <h1 className="title">Audit log</h1>
        <TextInput
          aria-label="Search the audit log"
          placeholder="who, what, tag, value"
          value={text}
          maxLength={80}
          onChange={(e) => setText(e.currentTarget.value)}
          w={260}
        />
        <button type="button" className="btn sm" onClick={() => print()}>
          Print
        </button>
        <a className="btn sm" href={`/api/export/audit.csv?${new URLSearchParams({ q })}`} download="audit-log.csv">
          CSV
        </a>
      </div>
      <p className="dim">
        Written by the database itself, line by line; nobody who serves can change or remove one. Each day’s lines are
        anchored.
      </p>
      {list.isError && (
        <p className="wrong" role="alert">
          {(list.error as Error).message}
        </p>
      )}
      {rows.length === 0 && !list.isPending && !list.isError ? (
        <p className="empty">{q ? 'No line is like that.' : 'Nothing was changed yet.'}</p>
      ) : (
        <AuditTable rows={rows} />
      )}
      {list.hasNextPage && (
        <button
          type="button"
          className="btn"
          disabled={list.isFetchingNextPage}
          onClick={() => void list.fetchNextPage()}
        >
          Older lines
        </button>
      )}
    </div>
  );
}
