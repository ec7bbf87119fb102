import { TextInput } from '@mantine/core';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { api, must, type StockLine } from '../../api/client';
import { num, when } from '../../kit/numbers';
import { StockForm } from './StockForm';

/** What is there, of whatever package: searched, changed, taken out. */
export function StockList({ may, onChanged }: { may: boolean; onChanged: () => void }) {
  const [find, setFind] = useState('');
  const [edit, setEdit] = useState<Partial<StockLine>>();
  const q = useQuery({ queryKey: ['stock'], queryFn: () => must(api.GET('/stock')) });
  const drop = useMutation({
    mutationFn: (id: string) => must(api.DELETE('/stock/{id}', { params: { path: { id } } })),
    onSuccess: onChanged,
  });
  const words = find.toLowerCase().split(/\s+/).filter(Boolean);
  const list = (q.data ?? []).filter((l) =>
    words.every((w) => `${l.kind} ${l.what} ${l.place}`.toLowerCase().includes(w)),
  );
  return (
    <section className="stock">
      <h2 className="rule">Stock</h2>
      <div className="row-btns">
        <TextInput
          aria-label="Find in stock"
          placeholder="Find in stock"
          value={find}
          onChange={(e) => setFind(e.currentTarget.value)}
        />
        {may && !edit && (
          <button type="button" className="btn" onClick={() => setEdit({})}>
            Enter something else
          </button>
        )}
      </div>
      {edit && (
        <StockForm
          key={edit.id ?? 'new'}
          title={edit.id ? `Stock of ${edit.what}` : 'New in stock'}
          from={edit}
          onDone={() => {
            setEdit(undefined);
            onChanged();
          }}
          onBack={() => setEdit(undefined)}
        />
      )}
      {(q.error ?? drop.error) && (
        <p className="wrong" role="alert">
          {((q.error ?? drop.error) as Error).message}
        </p>
      )}
      {q.isSuccess && list.length === 0 && (
        <p className="empty">
          {find
            ? 'Nothing in stock is called so.'
            : 'The stock list is empty: whatever is not entered counts as not there.'}
        </p>
      )}
      <ul className="held">
        {list.map((l) => (
          <li key={l.id}>
            <span>
              <b>{l.what}</b> {num(l.quantity)}
              <small>
                {[l.kind, l.place, l.useBy && `use by ${l.useBy}`, `${l.by}, ${when(l.at)}`].filter(Boolean).join('; ')}
              </small>
            </span>
            {may && (
              <span className="row-btns">
                <button type="button" className="btn sm" aria-label={`Change ${l.what}`} onClick={() => setEdit(l)}>
                  Change
                </button>
                <button
                  type="button"
                  className="btn sm"
                  aria-label={`Take out ${l.what}`}
                  disabled={drop.isPending}
                  onClick={() => drop.mutate(l.id)}
                >
                  Take out
                </button>
              </span>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
