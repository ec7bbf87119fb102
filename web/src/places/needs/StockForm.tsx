import { Select, TextInput } from '@mantine/core';
import { useState } from 'react';
import { v7 as uuidv7 } from 'uuid';
import { api, must, type StockLine } from '../../api/client';
import { Figure } from '../../kit/Figure';
import { SheetEnd } from '../../kit/SheetEnd';
import { useSheet } from '../../kit/sheet';

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
  const sheet = useSheet(
    {
      kind: (from.kind ?? 'part') as Kind,
      what: from.what ?? '',
      quantity: from.quantity ?? ('' as number | ''),
      place: from.place ?? '',
      useBy: from.useBy ?? '',
    },
    async (v) => {
      await must(api.PUT('/stock/{id}', { params: { path: { id } }, body: { ...v, quantity: v.quantity || 0 } }));
      onDone();
    },
  );
  return (
    <form className="stock-form" aria-label={title} onSubmit={sheet.submit}>
      <h2 className="rule">{title}</h2>
      <div className="fields">
        <Select label="Kind" {...sheet.field('kind')} data={words} allowDeselect={false} />
        <TextInput label="What, as the list calls it" {...sheet.field('what')} />
        <Figure label="How many, or how much" {...sheet.field('quantity')} />
        <TextInput label="Where it lies" placeholder="store, rack, bin" {...sheet.field('place')} />
        <TextInput label="Use by" type="date" {...sheet.field('useBy')} />
      </div>
      <SheetEnd sheet={sheet} verb="Keep it" ready={!Number.isNaN(sheet.values.quantity)} onBack={onBack} />
    </form>
  );
}
