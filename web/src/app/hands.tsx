import { Modal } from '@mantine/core';
import { Link, useNavigate } from '@tanstack/react-router';
import { useState } from 'react';
import { api, type LoginRow, must } from '../api/client';
import { useSession } from '../api/session';
import { when } from '../kit/numbers';
import { NameAndPIN } from './signin';

/** Where one is signed in, each with a way to end it; an administrator sees everybody's. */
function Logins() {
  const [rows, setRows] = useState<LoginRow[]>();
  const [wrong, setWrong] = useState('');
  const fill = (answer: Promise<LoginRow[]>) =>
    answer.then(
      (list) => {
        setRows(list);
        setWrong('');
      },
      (e: Error) => setWrong(e.message),
    );
  return (
    <details className="logins" onToggle={(e) => e.currentTarget.open && void fill(must(api.GET('/logins')))}>
      <summary>Where I am signed in</summary>
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
      <ul>
        {rows?.map((l) => (
          <li key={l.id}>
            <span>
              <b>{l.name}</b>, {l.role}, since {when(l.beganAt)}
              {l.here ? ', on this device' : `, seen ${when(l.seenAt)}${l.address ? ` from ${l.address}` : ''}`}
              {!l.proved && ', device not proved'}
              <small>{l.agent}</small>
            </span>
            {!l.here && (
              <button
                type="button"
                className="btn sm"
                onClick={() => void fill(must(api.DELETE('/logins/{id}', { params: { path: { id: l.id } } })))}
              >
                End it
              </button>
            )}
          </li>
        ))}
      </ul>
    </details>
  );
}

/** Hands over a shared device: touch the name at the top, touch the new name, PIN. */
export function ChangeHands({ opened, onClose }: { opened: boolean; onClose: () => void }) {
  const { person, signIn, signOut, may } = useSession();
  const navigate = useNavigate();
  return (
    <Modal opened={opened} onClose={onClose} title="Change hands" size="lg">
      <p className="dim" style={{ marginBottom: 10 }}>
        {person?.name} is signed in as {person?.role}. Pick who goes on.
      </p>
      <NameAndPIN
        verb="Go on"
        act={(p, pin, own) => signIn(p.id, pin, own)}
        onDone={onClose}
        only={(people) => people.filter((p) => p.id !== person?.id)}
      />
      <Logins />
      {may('getCrew') && (
        <Link to="/site" className="btn" onClick={onClose}>
          People and site
        </Link>
      )}
      <button
        type="button"
        className="btn plain"
        onClick={() => {
          void signOut().then(() => navigate({ to: '/' }));
          onClose();
        }}
      >
        Sign out
      </button>
    </Modal>
  );
}
