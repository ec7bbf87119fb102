import { Textarea, TextInput } from '@mantine/core';
import { useState } from 'react';
import type { KeptLook } from '../../api/kept';
import { looks } from '../../api/looks';
import { useSession } from '../../api/session';
import { noted } from '../../core/core';
import { PhotoField } from '../../kit/PhotoField';
import { SignPart } from './SignPart';
import { NotTaken, useSign } from './useSign';

/** A note of what is at no joint of the register, with a picture: signed, or kept to be signed with the others of the walk. */
export function NoteForm({
  tag,
  note,
  away,
  onBack,
  onDone,
}: {
  tag: string; // as it was read
  note?: KeptLook | undefined; // kept before, to be corrected
  away: boolean;
  onBack: () => void;
  onDone: () => void;
}) {
  const { person } = useSession();
  const [plate, setPlate] = useState(note?.tag ?? tag);
  const [words, setWords] = useState(note?.note ?? '');
  const [picture, setPicture] = useState(note?.picture);
  const unsigned = away || !!note;
  const { pin, setPIN, sign, field } = useSign(unsigned, onDone);
  const take = () => {
    if (!person) throw new Error('Nobody is signed in. Sign in, then note it.');
    const wrong = noted(plate.trim(), words);
    if (wrong?.refused) throw new NotTaken(`This ${wrong.refused}`, wrong.field);
    const at = { tag: plate.trim().toUpperCase(), record: '', run: '', after: 0 };
    const said = { answers: [], says: words.trim(), note: words.trim(), picture };
    return { ...looks.look(person, at, said, note), tag: at.tag };
  };
  const wrong = (of: string) => (field === of ? sign.error?.message : undefined);
  return (
    <form
      className="walk-note"
      aria-label="A note"
      onSubmit={(e) => {
        e.preventDefault();
        sign.mutate(take);
      }}
    >
      <TextInput
        label="Tag, as it stands there"
        description="empty when there is none"
        value={plate}
        onChange={(e) => setPlate(e.currentTarget.value)}
        maxLength={60}
        autoCapitalize="characters"
        error={wrong('tag')}
      />
      <Textarea
        label="What did you see, and where?"
        value={words}
        onChange={(e) => setWords(e.currentTarget.value)}
        autosize
        minRows={2}
        maxLength={1000}
        error={wrong('note')}
      />
      <PhotoField photo={picture} onPhoto={setPicture} />
      <SignPart
        what="the note"
        unsigned={unsigned}
        away={away}
        pin={pin}
        onPIN={setPIN}
        error={field === 'tag' || field === 'note' ? undefined : sign.error?.message}
        ready={!!words.trim() && !sign.isPending}
        onBack={onBack}
      />
    </form>
  );
}
