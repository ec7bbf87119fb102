import { TextInput } from '@mantine/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, must } from '../../api/client';

/** Where one's own mail goes, in the morning. */
export function MailTo({ mail, email }: { mail: boolean; email: string }) {
  const qc = useQueryClient();
  const [to, setTo] = useState(email);
  const put = useMutation({
    mutationFn: () => must(api.PUT('/due/email', { body: { email: to.trim() } })),
    onSuccess: () => qc.invalidateQueries({ queryKey: ['due'] }),
  });
  return (
    <section>
      <h2 className="rule">By mail, in the morning</h2>
      <p className="dim">
        {mail
          ? 'What is overdue, of today and of the next seven days, once a day; nothing on a day with nothing to tell.'
          : 'No mail is sent from this server yet: whoever runs it names a mail server.'}
      </p>
      <form
        className="mail-to"
        onSubmit={(e) => {
          e.preventDefault();
          put.mutate();
        }}
      >
        <TextInput
          label="Your mail address"
          type="email"
          placeholder="empty: no mail"
          value={to}
          onChange={(e) => setTo(e.currentTarget.value)}
          error={put.error ? (put.error as Error).message : undefined}
        />
        <button type="submit" className="btn" disabled={put.isPending || to.trim() === email}>
          Keep it
        </button>
      </form>
    </section>
  );
}
