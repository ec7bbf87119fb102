import { PasswordInput, Select, TextInput } from '@mantine/core';
import { useState } from 'react';
import { api, must } from '../api/client';
import { useSession } from '../api/session';
import { useSheet } from '../kit/sheet';

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
  const [own, setOwn] = useState(false); // the prefix was typed
  const start = { code: '', person: '', pin: '', site: '', prefix: '', timeZone: here() || 'UTC' };
  const sheet = useSheet(start, async (v) => {
    const p = await must(api.POST('/first-day', { body: { ...v, prefix } }));
    await signIn(p.id, v.pin);
  });
  const v = sheet.values;
  const prefix = own ? v.prefix : lettersOf(v.site);
  return (
    <div className="sign-in">
      <form className="first-day" onSubmit={sheet.submit}>
        <h1 className="title">A new installation</h1>
        <p>Nobody can sign in yet. You become the first: administrator, engineer and lead.</p>
        <TextInput
          label="Code that the server printed when it was started"
          {...sheet.field('code')}
          autoComplete="off"
          data-autofocus
          size="lg"
        />
        <TextInput label="Your name, as it is to stand on records" {...sheet.field('person')} size="lg" />
        <PasswordInput
          label="Your PIN, 4 to 8 digits, or a passphrase"
          {...sheet.field('pin')}
          autoComplete="new-password"
          size="lg"
        />
        <TextInput label="Name of the site" {...sheet.field('site', 'name')} size="lg" />
        <TextInput
          label="Record numbers begin with"
          description={prefix ? `${prefix}-${new Date().getFullYear()}-00001` : 'one to six capital letters and digits'}
          {...sheet.field('prefix')}
          value={prefix}
          onChange={(e) => {
            setOwn(true);
            sheet.put({ prefix: e.currentTarget.value.toUpperCase() });
          }}
          size="lg"
        />
        <Select
          label="Time zone"
          data={[...new Set([v.timeZone, 'UTC', ...zones()])]}
          {...sheet.field('timeZone')}
          allowDeselect={false}
          searchable
          size="lg"
        />
        {sheet.rest() && (
          <p className="wrong" role="alert">
            {sheet.rest()}
          </p>
        )}
        <button type="submit" className="btn now wide" disabled={sheet.busy}>
          Begin
        </button>
      </form>
    </div>
  );
}
