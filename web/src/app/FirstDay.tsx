import { PasswordInput, Select, TextInput } from '@mantine/core';
import { type FormEvent, useState } from 'react';
import { api, must, Refused } from '../api/client';
import { useSession } from '../api/session';

const zones = () => Intl.supportedValuesOf('timeZone');
const here = () => Intl.DateTimeFormat().resolvedOptions().timeZone;

/** Two or three letters of a name, to begin record numbers with. */
const lettersOf = (name: string) =>
  name
    .split(/\s+/)
    .map((w) => w.charAt(0))
    .join('')
    .toUpperCase()
    .replace(/[^A-Z0-9]/g, '')
    .slice(0, 3);

/** The first page of an empty installation: who begins, and what the site is called. */
export function FirstDay() {
  const { signIn } = useSession();
  const [v, setV] = useState({ code: '', person: '', pin: '', site: '', prefix: '', timeZone: here() || 'UTC' });
  const [own, setOwn] = useState(false); // the prefix was typed
  const [wrong, setWrong] = useState<{ field?: string | undefined; text: string }>();
  const [busy, setBusy] = useState(false);
  const set = (c: Partial<typeof v>) => setV({ ...v, ...c });
  const prefix = own ? v.prefix : lettersOf(v.site);
  const err = (field: string) => (wrong?.field === field ? wrong.text : undefined);
  async function begin(e: FormEvent) {
    e.preventDefault();
    setBusy(true);
    setWrong(undefined);
    try {
      const p = await must(api.POST('/first-day', { body: { ...v, prefix } }));
      await signIn(p.id, v.pin);
    } catch (x) {
      setWrong({ field: x instanceof Refused ? x.field : undefined, text: (x as Error).message });
    } finally {
      setBusy(false);
    }
  }
  return (
    <div className="sign-in">
      <form className="first-day" onSubmit={(e) => void begin(e)}>
        <h1 className="title">A new installation</h1>
        <p>Nobody can sign in yet. You become the first: administrator, engineer and lead.</p>
        <TextInput
          label="Code that the server printed when it was started"
          value={v.code}
          onChange={(e) => set({ code: e.currentTarget.value })}
          error={err('code')}
          autoComplete="off"
          data-autofocus
          size="lg"
        />
        <TextInput
          label="Your name, as it is to stand on records"
          value={v.person}
          onChange={(e) => set({ person: e.currentTarget.value })}
          error={err('person')}
          size="lg"
        />
        <PasswordInput
          label="Your PIN, 4 to 8 digits, or a passphrase"
          value={v.pin}
          onChange={(e) => set({ pin: e.currentTarget.value })}
          error={err('pin')}
          autoComplete="new-password"
          size="lg"
        />
        <TextInput
          label="Name of the site"
          value={v.site}
          onChange={(e) => set({ site: e.currentTarget.value })}
          error={err('name')}
          size="lg"
        />
        <TextInput
          label="Record numbers begin with"
          description={prefix ? `${prefix}-${new Date().getFullYear()}-00001` : 'one to six capital letters and digits'}
          value={prefix}
          onChange={(e) => {
            setOwn(true);
            set({ prefix: e.currentTarget.value.toUpperCase() });
          }}
          error={err('prefix')}
          size="lg"
        />
        <Select
          label="Time zone"
          data={[...new Set([v.timeZone, 'UTC', ...zones()])]}
          value={v.timeZone}
          onChange={(z) => z && set({ timeZone: z })}
          error={err('timeZone')}
          searchable
          size="lg"
        />
        {wrong && !['code', 'person', 'pin', 'name', 'prefix', 'timeZone'].includes(wrong.field ?? '') && (
          <p className="wrong" role="alert">
            {wrong.text}
          </p>
        )}
        <button type="submit" className="btn now wide" disabled={busy}>
          Begin
        </button>
      </form>
    </div>
  );
}
