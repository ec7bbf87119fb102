import { TextInput } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { api, must } from '../../api/client';

/** Takes a verified record of another site in, once its key was compared with the one that site has made known. */
export function TakeIn({ file }: { file: File }) {
  const qc = useQueryClient();
  const [key, setKey] = useState('');
  const [wrong, setWrong] = useState('');
  const [done, setDone] = useState(false);
  async function take() {
    setWrong('');
    try {
      await must(
        api.POST('/elsewhere', {
          params: { query: { keyId: key } },
          body: file as unknown as string,
          bodySerializer: (b) => b as unknown as Blob,
          headers: { 'Content-Type': 'application/octet-stream' },
        }),
      );
      void qc.invalidateQueries({ queryKey: ['elsewhere'] });
      setDone(true);
    } catch (e) {
      setWrong((e as Error).message);
    }
  }
  if (done)
    return (
      <p role="status" style={{ marginTop: 10 }}>
        Taken in, apart from this site’s own. <Link to="/elsewhere">Records of other sites</Link>
      </p>
    );
  return (
    <form
      style={{ marginTop: 14 }}
      onSubmit={(e) => {
        e.preventDefault();
        void take();
      }}
    >
      <h2 className="rule">Take it in</h2>
      <p>
        It was signed with a key that is not this site’s. Type the key as the other site has made it known, from its
        printed sheet or its own page; do not copy it from here.
      </p>
      <div style={{ display: 'flex', gap: 10, alignItems: 'end', flexWrap: 'wrap' }}>
        <TextInput
          label="Key of the other site, 16 digits"
          value={key}
          maxLength={40}
          onChange={(e) => setKey(e.currentTarget.value)}
          w={260}
        />
        <button type="submit" className="btn" disabled={!key.trim()}>
          Take it in
        </button>
      </div>
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
    </form>
  );
}
