import { Modal, Textarea } from '@mantine/core';
import { type ReactNode, useEffect, useState } from 'react';

interface ReasonProps {
  opened: boolean;
  title: string;
  text?: ReactNode;
  choices?: string[]; // usual reasons, one touch each
  verb: string;
  label?: string; // what is asked for, when it is not why
  onClose: () => void;
  onDone: (reason: string) => void | Promise<void>;
}

/** Asks why, in one touch where the reason is a usual one. */
export function ReasonDialog({ opened, title, text, choices = [], verb, label, onClose, onDone }: ReasonProps) {
  const [reason, setReason] = useState('');
  const [wrong, setWrong] = useState('');
  useEffect(() => {
    if (opened) {
      setReason('');
      setWrong('');
    }
  }, [opened]);
  async function done(r: string) {
    if (!r.trim()) {
      setWrong('Say why in a few words.');
      return;
    }
    try {
      await onDone(r.trim());
      onClose();
    } catch (e) {
      setWrong((e as Error).message);
    }
  }
  return (
    <Modal opened={opened} onClose={onClose} title={title}>
      {text && <div style={{ fontSize: 17, marginBottom: 10 }}>{text}</div>}
      <div style={{ display: 'grid', gap: 8 }}>
        {choices.map((c) => (
          <button
            key={c}
            type="button"
            className="btn"
            style={{ height: 64, justifyContent: 'flex-start' }}
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
        <button type="button" className="btn now wide" onClick={() => void done(reason)}>
          {verb}
        </button>
      </div>
    </Modal>
  );
}
