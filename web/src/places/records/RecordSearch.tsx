import { Autocomplete, Modal, Select, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { api, must } from '../../api/client';
import { type FacetKind, facetOf, facetWords, queryOf, type RecordSearch, searchOf } from './search';

interface Props {
  search: RecordSearch;
  onChange: (s: RecordSearch) => void;
}

/** The search as a sentence: words, days, and what the records must have. */
export function SearchSentence({ search, onChange }: Props) {
  const [text, setText] = useState(search.q ?? '');
  useEffect(() => setText(search.q ?? ''), [search.q]);
  const put = (part: RecordSearch) => onChange({ ...search, ...part });
  const drop = (f: string) => put({ facet: search.facet?.filter((x) => x !== f) });
  return (
    <search className="sentence">
      <span>Records with</span>
      <TextInput
        aria-label="Search records"
        placeholder="tag, number, name, person"
        value={text}
        onChange={(e) => {
          setText(e.currentTarget.value);
          put({ q: e.currentTarget.value || undefined });
        }}
        maxLength={80}
        w={220}
      />
      {search.facet?.map((f) => {
        const [kind, value] = facetOf(f) ?? [];
        if (!kind) return null;
        return (
          <button key={f} type="button" className="btn sm chosen" onClick={() => drop(f)}>
            {facetWords[kind]} <b>{value}</b>
            <span aria-hidden>×</span>
            <span className="sr">, take out of the search</span>
          </button>
        );
      })}
      <AddFacet onAdd={(f) => put({ facet: [...new Set([...(search.facet ?? []), f])] })} />
      <span>sealed from</span>
      <TextInput
        aria-label="Sealed from"
        type="date"
        value={search.from ?? ''}
        max={search.to}
        onChange={(e) => put({ from: e.currentTarget.value || undefined })}
      />
      <span>to</span>
      <TextInput
        aria-label="Sealed up to and with"
        type="date"
        value={search.to ?? ''}
        min={search.from}
        onChange={(e) => put({ to: e.currentTarget.value || undefined })}
      />
    </search>
  );
}

/** One more thing that the records must have: what it is, then which one, of those that there are. */
function AddFacet({ onAdd }: { onAdd: (facet: string) => void }) {
  const [kind, setKind] = useState<FacetKind>();
  const [text, setText] = useState('');
  const [q] = useDebouncedValue(text, 150);
  const values = useQuery({
    queryKey: ['records', 'facets', kind, q],
    queryFn: () => must(api.GET('/records/facets', { params: { query: { kind: kind ?? 'tool', q } } })),
    enabled: !!kind,
    placeholderData: (last) => last,
  });
  const list = values.data ?? [];
  const add = (value: string) => {
    if (!kind || !value.trim()) return;
    onAdd(`${kind}:${value.trim()}`);
    setKind(undefined);
    setText('');
  };
  return (
    <>
      <Select
        aria-label="One more thing they must have"
        placeholder="and …"
        value={kind ?? null}
        onChange={(v) => {
          setKind((v as FacetKind | null) ?? undefined);
          setText('');
        }}
        data={Object.entries(facetWords).map(([value, label]) => ({ value, label: label.replace(/:$/, '') }))}
        clearable
        w={170}
      />
      {kind && (
        <Autocomplete
          aria-label="Which one"
          placeholder={values.isPending ? 'looking' : list.length === 0 ? 'none there' : 'choose or type'}
          data={list.map((v) => v.value)}
          filter={({ options }) => options}
          renderOption={({ option }) => (
            <span className="facet-option">
              {option.value}
              <span className="dim">{list.find((v) => v.value === option.value)?.total}</span>
            </span>
          )}
          value={text}
          onChange={setText}
          onOptionSubmit={add}
          onKeyDown={(e) => {
            if (e.key === 'Enter' && list.some((v) => v.value === text)) add(text);
          }}
          maxLength={120}
          autoFocus
          w={220}
        />
      )}
    </>
  );
}

/** Searches that are kept under a name, each one touch away. */
export function SavedSearches({ search, onChange }: Props) {
  const qc = useQueryClient();
  const [naming, setNaming] = useState(false);
  const [name, setName] = useState('');
  const [wrong, setWrong] = useState('');
  const kept = useQuery({ queryKey: ['searches'], queryFn: () => must(api.GET('/searches')), staleTime: 60_000 });
  const query = queryOf(search);
  const now = kept.data?.find((s) => s.query === query);
  async function act(doing: Promise<unknown>) {
    setWrong('');
    try {
      qc.setQueryData(['searches'], await doing);
      setNaming(false);
      setName('');
    } catch (e) {
      setWrong((e as Error).message);
    }
  }
  return (
    <div className="row-btns" style={{ margin: '6px 0' }}>
      {kept.data?.map((s) => (
        <button
          key={s.name}
          type="button"
          className={`btn sm${s === now ? ' on' : ''}`}
          aria-pressed={s === now}
          onClick={() => onChange(searchOf(s.query))}
        >
          {s.name}
        </button>
      ))}
      {query && !now && (
        <button type="button" className="btn sm plain" onClick={() => setNaming(true)}>
          Keep this search
        </button>
      )}
      {now && (
        <button
          type="button"
          className="btn sm plain"
          onClick={() => void act(must(api.DELETE('/searches', { params: { query: { name: now.name } } })))}
        >
          Drop “{now.name}”
        </button>
      )}
      {query && (
        <button type="button" className="btn sm plain" onClick={() => onChange({})}>
          All records
        </button>
      )}
      {wrong && !naming && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
      <Modal opened={naming} onClose={() => setNaming(false)} title="Keep this search">
        <form
          onSubmit={(e) => {
            e.preventDefault();
            void act(must(api.POST('/searches', { body: { name, query } })));
          }}
        >
          <TextInput
            label="Called"
            value={name}
            maxLength={60}
            data-autofocus
            error={wrong || undefined}
            onChange={(e) => setName(e.currentTarget.value)}
          />
          <button type="submit" className="btn now wide" style={{ marginTop: 10 }} disabled={!name.trim()}>
            Keep
          </button>
        </form>
      </Modal>
    </div>
  );
}
