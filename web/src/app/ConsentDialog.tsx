import { Modal } from '@mantine/core';
import type { ConsentAsked } from '../api/consent';
import { NameAndPIN } from './signin';

/** Asks for name and PIN, and gives or refuses. */
export function ConsentDialog({ asked, onDone }: { asked: ConsentAsked; onDone: () => void }) {
  return (
    <Modal
      opened
      onClose={() => {
        asked.refuse();
        onDone();
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
          onDone();
          asked.give(p.id, pin);
        }}
        onDone={() => undefined}
      />
    </Modal>
  );
}
