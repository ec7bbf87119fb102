import { Select, TextInput } from '@mantine/core';
import { useState } from 'react';
import type { Plan, ProcedureCheck, RunEvent } from '../../api/client';
import { groupOf } from '../../rosette/GroupRosette';
import { openScan, useTaker } from '../../scan/takers';

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
  const [strange, setStrange] = useState(''); // scanned, and nothing the plan could be made with
  useTaker((scanned) => {
    if (scanned.kind !== 'tin') return false;
    const card = plan.lubricantCards.find((l) => l.code === scanned.lubricant);
    setStrange(card ? '' : `The tin holds ${scanned.lubricant}, of which the plan has no card.`);
    setCode(card && card.code !== planned.code ? card.code : null);
    setProduct(card?.name ?? scanned.lubricant);
    setBatch(scanned.batch);
    setExpiry(scanned.useBy);
    return true;
  });
  return (
    <>
      <p className="dim">
        The plan holds for <b>{planned.name}</b>. Look at the tin, do not assume.
      </p>
      <button type="button" className="btn" onClick={openScan}>
        Scan the tin
      </button>
      {strange && (
        <p className="wrong" role="alert">
          {strange}
        </p>
      )}
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
