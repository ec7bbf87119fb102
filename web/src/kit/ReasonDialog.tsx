import { Modal, Textarea } from '@mantine/core';
import { type ReactNode, useState } from 'react';

interface FieldsProps {
  choices?: string[]; // usual reasons, one touch each
  verb: string;
  label?: string; // what is asked for, when it is not why
  ready?: boolean; // false: something else is to be said first
  onDone: (reason: string) => void | Promise<void>;
}

/** Asks why, in one touch where the reason is a usual one. */
export function ReasonFields({ choices = [], verb, label, ready = true, onDone }: FieldsProps) {
  const [reason, setReason] = useState('');
  const [wrong, setWrong] = useState('');
  async function done(r: string) {
    if (!r.trim()) {
      setWrong('Say why in a few words.');
      return;
    }
    try {
      await onDone(r.trim());
    } catch (e) {
      setWrong((e as Error).message);
    }
  }
  return (
    <div style={{ display: 'grid', gap: 8 }}>
      {choices.map((c) => (
        <button
          key={c}
          type="button"
          className="btn"
          style={{ height: 64, justifyContent: 'flex-start' }}
          disabled={!ready}
          onClick={() => void done(c)}
        >
          {c}
        </button>
      ))}
      <Textarea
        label={label ?? (choices.length ? 'Or in your own words' : 'Why')}
        value={reason}
        onChange={(e) => setReason(e.currentTarget.value)}
        autosize
        minRows={2}
        maxLength={500}
        data-autofocus={choices.length === 0}
      />
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
      <button type="button" className="btn now wide" disabled={!ready} onClick={() => void done(reason)}>
        {verb}
      </button>
    </div>
  );
}

interface ReasonProps extends FieldsProps {
  opened: boolean;
  title: string;
  text?: ReactNode;
  onClose: () => void;
}

/** The same in a window of its own. */
export function ReasonDialog({ opened, title, text, onClose, onDone, ...fields }: ReasonProps) {
  return (
    <Modal opened={opened} onClose={onClose} title={title}>
      {text && <div style={{ fontSize: 17, marginBottom: 10 }}>{text}</div>}
      {opened && (
        <ReasonFields
          {...fields}
          onDone={async (reason) => {
            await onDone(reason);
            onClose();
          }}
        />
      )}
    </Modal>
  );
}
