import { Select, TextInput } from '@mantine/core';
import { useState } from 'react';
import type { Plan, ProcedureCheck, RunEvent } from '../../api/client';
import { groupOf } from '../../rosette/GroupRosette';

export function LubricantForm({
  check,
  plan,
  onAnswer,
}: {
  check: ProcedureCheck;
  plan: Plan;
  onAnswer: (e: Partial<RunEvent>) => void;
}) {
  const planned = groupOf(plan, check.fasteners).lubricant;
  const [code, setCode] = useState<string | null>(null);
  const [product, setProduct] = useState('');
  const [batch, setBatch] = useState('');
  const [expiry, setExpiry] = useState('');
  const other = code !== null && code !== planned.code;
  const fields = { product, batch, expiry };
  return (
    <>
      <p className="dim">
        The plan holds for <b>{planned.name}</b>. Look at the tin, do not assume.
      </p>
      <div className="fields" style={{ margin: '8px 0' }}>
        <TextInput
          label="Tin or product"
          value={product}
          onChange={(e) => setProduct(e.currentTarget.value)}
          maxLength={60}
        />
        <TextInput label="Batch" value={batch} onChange={(e) => setBatch(e.currentTarget.value)} maxLength={40} />
        <TextInput label="Use by" type="date" value={expiry} onChange={(e) => setExpiry(e.currentTarget.value)} />
      </div>
      <Select
        label="Something else was found"
        placeholder="choose what is on the bench"
        value={code}
        onChange={setCode}
        clearable
        searchable
        data={plan.lubricantCards.map((l) => ({ value: l.code, label: l.name }))}
      />
      <div className="answers" style={{ gridTemplateColumns: '1fr' }}>
        {other ? (
          <button type="button" className="btn now" onClick={() => onAnswer({ answer: code, ...fields })}>
            {plan.lubricantCards.find((l) => l.code === code)?.name} was found
          </button>
        ) : (
          <button type="button" className="btn now" onClick={() => onAnswer({ answer: planned.code, ...fields })}>
            {planned.name} it is
          </button>
        )}
      </div>
    </>
  );
}
