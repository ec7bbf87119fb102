import { Textarea } from '@mantine/core';
import type { Family, Specification } from '../../api/client';

type Orders = NonNullable<Specification['orders']>;

/** In which order parts go in by the document, for each check that has them ticked one after another. */
export function DocumentOrders({
  checks,
  orders,
  err,
  onChange,
}: {
  checks: Family['checks'];
  orders: Orders;
  err: (field: string) => string | undefined;
  onChange: (orders: Orders) => void;
}) {
  const asked = checks.filter((c) => c.kind === 'sequence');
  if (!asked.length) return null;
  return (
    <>
      <div className="rule">Order of parts in the document</div>
      <div className="fields" style={{ margin: '6px 0 12px' }}>
        {asked.map((c) => (
          <Textarea
            key={c.code}
            label={c.title}
            description="one part a line, the first to go in first; empty for the usual order"
            placeholder={c.items?.join('\n')}
            value={orders[c.code]?.join('\n') ?? ''}
            onChange={(e) => {
              const { [c.code]: _, ...rest } = orders;
              const text = e.currentTarget.value;
              onChange(text === '' ? rest : { ...rest, [c.code]: text.split('\n') });
            }}
            error={err(`orders.${c.code}`)}
            autosize
            minRows={3}
          />
        ))}
      </div>
    </>
  );
}
