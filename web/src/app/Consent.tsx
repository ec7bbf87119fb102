import { Modal } from '@mantine/core';
import { useEffect, useState } from 'react';
import { type ConsentAsked, onConsent } from '../api/consent';
import { NameAndPIN } from './signin';

/** Asks for the name and PIN of somebody with authority when the server wants them before it does a thing. */
export function Consent() {
  const [asked, setAsked] = useState<ConsentAsked>();
  useEffect(() => {
    onConsent(setAsked);
    return () => onConsent(undefined);
  }, []);
  if (!asked) return null;
  return (
    <Modal
      opened
      onClose={() => {
        asked.refuse();
        setAsked(undefined);
      }}
      title="This takes a PIN"
      size="lg"
    >
      <p style={{ fontSize: 17 }} role="alert">
        {asked.why}
      </p>
      <NameAndPIN
        verb="Give leave"
        act={async (p, pin) => {
          setAsked(undefined);
          asked.give(p.id, pin);
        }}
        onDone={() => undefined}
      />
    </Modal>
  );
}
