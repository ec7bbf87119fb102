import { Select, TextInput } from '@mantine/core';
import type { ShiftData } from './useShift';

const more = Array.from({ length: 14 }, (_, i) => ({
  value: String(i + 1),
  label: i === 0 ? 'no more days' : `${i} more`,
}));

/** Which work package, on which days, from when to when. */
export function Sentence({ d }: { d: ShiftData }) {
  const { ask, set } = d;
  return (
    <search className="sentence">
      <h1 className="title">Shift</h1>
      <span>for</span>
      <Select
        aria-label="Work package"
        value={d.code ?? null}
        onChange={(v) => v && set({ package: v, at: undefined, anew: undefined })}
        data={(d.packages.data ?? []).map((x) => ({ value: x.code, label: `${x.code} ${x.name}` }))}
        searchable
        allowDeselect={false}
        w={210}
      />
      <span>on</span>
      <TextInput
        aria-label="First day"
        type="date"
        value={ask.day}
        onChange={(e) => set({ day: e.currentTarget.value || undefined })}
      />
      <span>and</span>
      <Select
        aria-label="Days"
        value={String(ask.days)}
        onChange={(v) => set({ days: more.findIndex((m) => m.value === v) + 1 })}
        data={more}
        allowDeselect={false}
        w={140}
      />
      <div className="span">
        <span>from</span>
        <TextInput
          aria-label="Begins at"
          type="time"
          value={ask.from}
          onChange={(e) => set({ from: e.currentTarget.value || undefined })}
        />
        <span>to</span>
        <TextInput
          aria-label="Ends at"
          type="time"
          value={ask.to}
          onChange={(e) => set({ to: e.currentTarget.value || undefined })}
        />
      </div>
      <div className="span">
        <span>break</span>
        <TextInput
          aria-label="Break from"
          type="time"
          value={ask.breakFrom}
          onChange={(e) => set({ breakFrom: e.currentTarget.value })}
        />
        <span>to</span>
        <TextInput
          aria-label="Break to"
          type="time"
          value={ask.breakTo}
          onChange={(e) => set({ breakTo: e.currentTarget.value })}
        />
      </div>
    </search>
  );
}
