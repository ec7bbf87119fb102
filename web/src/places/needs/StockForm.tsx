import { Select, TextInput } from '@mantine/core';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { v7 as uuidv7 } from 'uuid';
import { api, must, Refused, type StockLine } from '../../api/client';
import { Figure } from '../../kit/Figure';

type Kind = 'part' | 'spare' | 'supply' | 'lubricant';

const words: { value: Kind; label: string }[] = [
  { value: 'part', label: 'part' },
  { value: 'spare', label: 'spare' },
  { value: 'supply', label: 'consumable' },
  { value: 'lubricant', label: 'lubricant' },
];

/** A line of stock: what, how much, where, and until when it may be used. */
export function StockForm({
  title,
  from,
  onDone,
  onBack,
}: {
  title: string;
  from: Partial<StockLine>;
  onDone: () => void;
  onBack: () => void;
}) {
  const [id] = useState(() => from.id ?? uuidv7());
  const [kind, setKind] = useState<string>(from.kind ?? 'part');
  const [what, setWhat] = useState(from.what ?? '');
  const [quantity, setQuantity] = useState<number | ''>(from.quantity ?? '');
  const [place, setPlace] = useState(from.place ?? '');
  const [useBy, setUseBy] = useState(from.useBy ?? '');
  const put = useMutation({
    mutationFn: () =>
      must(
        api.PUT('/stock/{id}', {
          params: { path: { id } },
          body: { kind: kind as Kind, what, quantity: quantity === '' ? 0 : quantity, place, useBy },
        }),
      ),
    onSuccess: onDone,
  });
  const wrong = (field: string) =>
    put.error instanceof Refused && put.error.field === field ? put.error.message : undefined;
  return (
    <form
      className="stock-form"
      aria-label={title}
      onSubmit={(e) => {
        e.preventDefault();
        put.mutate();
      }}
    >
      <h2 className="rule">{title}</h2>
      <div className="fields">
        <Select label="Kind" value={kind} onChange={(k) => k && setKind(k)} data={words} allowDeselect={false} />
        <TextInput
          label="What, as the list calls it"
          value={what}
          onChange={(e) => setWhat(e.currentTarget.value)}
          error={wrong('what')}
        />
        <Figure label="How many, or how much" value={quantity} onChange={setQuantity} error={wrong('quantity')} />
        <TextInput
          label="Where it lies"
          placeholder="store, rack, bin"
          value={place}
          onChange={(e) => setPlace(e.currentTarget.value)}
        />
        <TextInput
          label="Use by"
          type="date"
          value={useBy}
          onChange={(e) => setUseBy(e.currentTarget.value)}
          error={wrong('useBy')}
        />
      </div>
      {put.error && !(put.error instanceof Refused && put.error.field) && (
        <p className="wrong" role="alert">
          {(put.error as Error).message}
        </p>
      )}
      <div className="row-btns">
        <button type="submit" className="btn now" disabled={put.isPending || Number.isNaN(quantity)}>
          Keep it
        </button>
        <button type="button" className="btn" onClick={onBack}>
          Leave it
        </button>
      </div>
    </form>
  );
}
