import { TextInput } from '@mantine/core';
import { useState } from 'react';
import type { ProcedureCheck, RunEvent } from '../../api/client';
import { keepPhoto } from '../../api/device';
import { type KeptPhoto, NotKept } from '../../api/outbox';
import { fitted } from '../../api/photo';
import type { LocalRun } from '../../api/runStore';
import { useHold } from '../../kit/question';
import { Methods } from './ConfirmForm';
import { PhotoAnswer } from './FitForms';

export function ConditionForm({
  check,
  run,
  onAnswer,
}: {
  check: ProcedureCheck;
  run: LocalRun;
  onAnswer: (e: Partial<RunEvent>) => void;
}) {
  const [kind, setKind] = useState<string>();
  const [note, setNote] = useState('');
  const [photo, setPhoto] = useState<Blob>();
  const [wrong, setWrong] = useState('');
  const hold = useHold();
  async function keep() {
    if (!photo || !note.trim()) {
      setWrong('A photo and a few words are needed, so that the next person sees what you saw.');
      return;
    }
    let kept: Partial<KeptPhoto> = {};
    try {
      const small = await fitted(photo);
      if (run.view) kept = await keepPhoto(run.view.id, small);
    } catch (e) {
      setWrong(e instanceof NotKept ? e.message : 'That file is not a picture. Take a photo, or choose a JPEG or PNG.');
      return;
    }
    onAnswer({ answer: kind, note: note.trim(), ...kept });
  }
  return (
    <>
      <Methods check={check} />
      <div className="answers">
        {check.photo ? (
          <PhotoAnswer
            run={run}
            verb="Accept, with a photo"
            onPhoto={(photo) => onAnswer({ answer: 'accept', ...photo })}
          />
        ) : (
          <button type="button" className="btn now" onClick={() => onAnswer({ answer: 'accept' })}>
            Accept
          </button>
        )}
        <button type="button" className={`btn${kind === 'repair' ? ' on' : ''}`} onClick={() => setKind('repair')}>
          Repair
        </button>
        <button type="button" className={`btn${kind === 'replace' ? ' on' : ''}`} onClick={() => setKind('replace')}>
          Replace
        </button>
      </div>
      {kind && (
        <div style={{ display: 'grid', gap: 8, marginTop: 10 }}>
          <TextInput
            label="What is wrong, and where"
            value={note}
            onChange={(e) => setNote(e.currentTarget.value)}
            maxLength={300}
          />
          <label className="btn" style={{ height: 56 }}>
            {photo ? 'Photo taken, take another' : 'Take a photo'}
            <input
              type="file"
              accept="image/jpeg,image/png,image/webp"
              capture="environment"
              className="sr"
              onChange={(e) => setPhoto(e.target.files?.[0] ?? undefined)}
            />
          </label>
          {wrong && <p className="wrong">{wrong}</p>}
          <button type="button" className="btn wide" onClick={() => hold(keep())}>
            Keep: to {kind}
          </button>
        </div>
      )}
    </>
  );
}
