import { TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { useNavigate } from '@tanstack/react-router';
import { useState } from 'react';
import { api, must } from '../../api/client';
import type { Output, Sheet } from '../../core/calc';
import { figureOf } from '../../kit/numbers';
import { Glyph } from '../../rosette/Glyph';

/** Takes a torque to a joint, where it becomes a new version of the specification after a look and a reason. */
export function PutOnJoint({ sheet, torque }: { sheet: Sheet; torque: Output }) {
  const [text, setText] = useState('');
  const [q] = useDebouncedValue(text.trim(), 150);
  const navigate = useNavigate();
  const found = useQuery({
    queryKey: ['joints', 'put', q],
    queryFn: () => must(api.GET('/joints', { params: { query: { q, limit: 8 } } })),
  });
  return (
    <>
      <p>
        {torque.text} becomes the target of a new version of the joint's specification. You look at the whole of it and
        give the reason before it is kept; open plans of the joint then need making anew.
      </p>
      <TextInput
        label="Which joint"
        placeholder="tag or a part of its name"
        value={text}
        onChange={(e) => setText(e.currentTarget.value)}
        mt="sm"
      />
      <ul className="put-list">
        {(found.data?.rows ?? []).map((j) => (
          <li key={j.tag}>
            <button
              type="button"
              onClick={() =>
                void navigate({
                  to: '/joints/$tag',
                  params: { tag: j.tag },
                  search: { station: 'read', torque: figureOf(torque.value), from: sheet.title },
                })
              }
            >
              <Glyph family={j.family} count={j.bolts} state={j.glyph} size={28} />
              <b>{j.tag}</b>
              <span>
                {j.name}, {j.make}
              </span>
            </button>
          </li>
        ))}
      </ul>
      {found.data?.rows.length === 0 && <p className="dim">No joint by that name.</p>}
    </>
  );
}
