import { Select, TextInput } from '@mantine/core';
import { useState } from 'react';
import { api, type Crew, type Given, type Member, must, type Training } from '../../api/client';
import { when } from '../../kit/numbers';

/** One person: training and its end, PIN, where they are signed in, and leave to sign in at all. */
export function MemberSheet({
  m,
  subjects,
  put,
  onGiven,
  onClose,
}: {
  m: Member;
  subjects: Training[];
  put: (answer: Promise<Crew>) => Promise<void>;
  onGiven: (g: Given) => void;
  onClose: () => void;
}) {
  const [subject, setSubject] = useState<string | null>(null);
  const [skill, setSkill] = useState('');
  const [until, setUntil] = useState('');
  const [note, setNote] = useState('');
  const [sure, setSure] = useState(false);
  const [wrong, setWrong] = useState('');
  const change = (body: { active?: boolean; training?: Training; untrain?: Training }) =>
    put(must(api.PUT('/crew/{id}', { params: { path: { id: m.id } }, body })));
  const today = new Date().toISOString().slice(0, 10);
  const named = skill.trim();
  const chosen = named
    ? { about: 'skill' as const, code: named, word: named }
    : subjects.find((s) => `${s.about} ${s.code}` === subject);
  return (
    <section className="member" aria-label={m.name}>
      <button type="button" className="btn plain" onClick={onClose}>
        Back to everybody
      </button>
      <h2 className="title">{m.name}</h2>
      <p className="dim">
        {m.roles.join(', ')}, since {when(m.since)}
      </p>
      <div className="rule">Training</div>
      {m.training.length === 0 && <p className="dim">Nothing is written down.</p>}
      {m.training.map((t) => (
        <div key={`${t.about} ${t.code}`} className="line">
          <span>
            {t.word}
            {t.note && <small className="dim"> {t.note}</small>}
          </span>
          <span className={t.until && t.until < today ? 'neg' : ''}>
            {t.until ? `${t.until < today ? 'ran out' : 'to'} ${t.until}` : 'for good'}
          </span>
          <button type="button" className="btn sm" onClick={() => void change({ untrain: t })}>
            Strike out
          </button>
        </div>
      ))}
      <Select
        label="Trained for"
        data={subjects.map((s) => ({ value: `${s.about} ${s.code}`, label: s.word }))}
        value={subject}
        onChange={setSubject}
        disabled={named !== ''}
        searchable
      />
      <TextInput
        label="Or another skill, by its name"
        placeholder="confined spaces, rope access"
        maxLength={60}
        value={skill}
        onChange={(e) => setSkill(e.currentTarget.value)}
      />
      <TextInput
        label="Until, as 2027-03-31; empty for good"
        value={until}
        onChange={(e) => setUntil(e.currentTarget.value)}
      />
      <TextInput
        label="Evidence"
        placeholder="certificate, course, who assessed it"
        value={note}
        onChange={(e) => setNote(e.currentTarget.value)}
      />
      <button
        type="button"
        className="btn"
        disabled={!chosen}
        onClick={() => chosen && void change({ training: { ...chosen, until: until.trim(), note: note.trim() } })}
      >
        Write it down
      </button>
      <div className="rule">PIN</div>
      <p className="dim">
        {m.onceUntil
          ? `A PIN was given that is good for one sign-in until ${when(m.onceUntil)}.`
          : `Their own, since ${when(m.pinSince)}.`}
      </p>
      <button
        type="button"
        className="btn"
        onClick={() =>
          void must(api.POST('/crew/{id}/pin', { params: { path: { id: m.id } } })).then(onGiven, (e: Error) =>
            setWrong(e.message),
          )
        }
      >
        Give a PIN for one sign-in
      </button>
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
      <div className="rule">Signed in on</div>
      {m.logins.length === 0 && <p className="dim">Nowhere.</p>}
      {m.logins.map((l) => (
        <div key={l.id} className="line">
          <span>
            {l.agent.slice(0, 40)}
            {l.proved ? '' : ', device not proved'}
          </span>
          <span className="dim">{when(l.seenAt)}</span>
          <button
            type="button"
            className="btn sm"
            onClick={() =>
              void must(api.DELETE('/logins/{id}', { params: { path: { id: l.id } } })).then(() =>
                put(must(api.GET('/crew'))),
              )
            }
          >
            Shut out
          </button>
        </div>
      ))}
      <div className="rule">Leave to sign in</div>
      {m.active ? (
        sure ? (
          <>
            <p>What {m.name} is signed in with ends now. The name stays on every record.</p>
            <div className="row-btns">
              <button type="button" className="btn" onClick={() => setSure(false)}>
                Keep
              </button>
              <button
                type="button"
                className="btn neg"
                onClick={() => {
                  setSure(false);
                  void change({ active: false });
                }}
              >
                Retire {m.name}
              </button>
            </div>
          </>
        ) : (
          <button type="button" className="btn" onClick={() => setSure(true)}>
            Retire
          </button>
        )
      ) : (
        <button type="button" className="btn" onClick={() => void change({ active: true })}>
          Let sign in again
        </button>
      )}
    </section>
  );
}
