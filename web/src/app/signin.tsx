import { lazy, useEffect, useRef, useState } from 'react';
import { type Person, Refused, usePeople } from '../api/client';
import { useSession } from '../api/session';
import { useTaker } from '../scan/takers';
import '../app/signin.css';

// Its fields are needed once in the life of a site, and would double what a first page fetches of them.
const FirstDay = lazy(() => import('./FirstDay').then((m) => ({ default: m.FirstDay })));

interface HandsProps {
  onDone: () => void;
  act: (person: Person, pin: string, newPin?: string) => Promise<void>;
  verb: string;
  only?: (people: Person[]) => Person[]; // who can be picked
  nobody?: string; // said when that is nobody
  chosen?: string | undefined; // who is picked already, by a card that was scanned
}

/** Pick a name or scan a card, enter the PIN: two touches and the digits. Used to sign in, to change hands and to sign. */
export function NameAndPIN({ onDone, act, verb, only, nobody, chosen }: HandsProps) {
  const people = usePeople();
  const [picked, setWho] = useState<Person>();
  const [pin, setPin] = useState('');
  const [wrong, setWrong] = useState('');
  const [busy, setBusy] = useState(false);
  const [own, setOwn] = useState<string>(); // an own PIN in the place of one that was given
  const [filter, setFilter] = useState('');
  const [words, setWords] = useState(false); // a passphrase instead of digits
  const field = useRef<HTMLInputElement>(null);
  const [card, setCard] = useState(chosen); // whose card was scanned
  const all = people.data ?? [];
  const every = only ? only(all) : all;
  const who = picked ?? every.find((p) => p.id === card);
  useEffect(() => {
    if (who) field.current?.focus();
  }, [who]);
  useTaker((code) => {
    if (code.kind !== 'person') return false;
    setWho(undefined);
    setCard(code.id);
    return true;
  });
  const many = every.length > 12; // a hundred names are searched, not read
  const list = many
    ? every.filter((p) => p.name.toLowerCase().includes(filter.toLowerCase()) || p.id === who?.id).slice(0, 12)
    : every;
  async function done() {
    if (!who || pin.length < 4 || busy) return;
    setBusy(true);
    setWrong('');
    try {
      await act(who, pin, own || undefined);
      onDone();
    } catch (e) {
      setWrong((e as Error).message);
      if (e instanceof Refused && e.field === 'newPin') setOwn(own ?? '');
      else {
        setPin('');
        setOwn(undefined);
        field.current?.focus();
      }
    } finally {
      setBusy(false);
    }
  }
  if (people.isError) return <p className="wrong">{(people.error as Error).message}</p>;
  return (
    <form
      className="hands"
      onSubmit={(e) => {
        e.preventDefault();
        void done();
      }}
    >
      {many && (
        <label className="search-names">
          Name, or a part of it
          <input value={filter} onChange={(e) => setFilter(e.target.value)} autoComplete="off" />
        </label>
      )}
      <div className="names" role="radiogroup" aria-label="Who">
        {list.map((p) => (
          // biome-ignore lint/a11y/useSemanticElements: a large touch target with two lines; a native radio cannot be one
          <button
            key={p.id}
            type="button"
            role="radio"
            aria-checked={who?.id === p.id}
            className={`btn name${who?.id === p.id ? ' on' : ''}`}
            onClick={() => setWho(p)}
          >
            <b>{p.name}</b>
            <span>{p.role}</span>
          </button>
        ))}
        {card && !who && people.isSuccess && (
          <p className="wrong" role="alert">
            Whoever has this card cannot be picked here.
          </p>
        )}
        {nobody && all.length > 0 && every.length === 0 && <p className="wrong">{nobody}</p>}
      </div>
      {who && (
        <div className="pin">
          <label htmlFor="pin-field">
            {words ? 'Passphrase' : 'PIN'} of {who.name}
          </label>
          <div className="pin-row">
            <input
              id="pin-field"
              ref={field}
              type="password"
              inputMode={words ? 'text' : 'numeric'}
              autoComplete="off"
              maxLength={words ? 128 : 8}
              value={pin}
              onChange={(e) => setPin(words ? e.target.value : e.target.value.replace(/\D/g, ''))}
            />
            <button type="submit" className="btn now" disabled={pin.length < 4 || busy}>
              {verb}
            </button>
          </div>
          {own !== undefined && (
            <label className="own-pin">
              Your own PIN, 4 to 8 digits, or a passphrase
              <input
                type="password"
                autoComplete="off"
                maxLength={128}
                value={own}
                onChange={(e) => setOwn(e.target.value)}
              />
            </label>
          )}
          {wrong && (
            <p className="wrong" role="alert">
              {wrong}
            </p>
          )}
          <button
            type="button"
            className="btn plain sm"
            onClick={() => {
              setWords(!words);
              setPin('');
              field.current?.focus();
            }}
          >
            {words ? 'I have a PIN' : 'I have a passphrase'}
          </button>
        </div>
      )}
    </form>
  );
}

export function SignInPage() {
  const { session, signIn } = useSession();
  if (session?.firstDay) return <FirstDay />;
  return (
    <div className="sign-in">
      <div>
        <h1 className="title">Who is at work?</h1>
        <p className="dim">{session?.site}</p>
        <NameAndPIN
          verb="Sign in"
          act={(p, pin, own) => signIn(p.id, pin, own)}
          onDone={() => undefined}
          chosen={new URLSearchParams(window.location.search).get('person') ?? undefined}
        />
        {session?.demo && (
          <div className="demo">
            <p className="lab">Demo sign-ins. Everybody and everything here is invented.</p>
            <ul>
              {session.demo.split(' · ').map((l) => (
                <li key={l} className="m">
                  {l}
                </li>
              ))}
            </ul>
          </div>
        )}
      </div>
    </div>
  );
}
