import { PasswordInput } from '@mantine/core';
import { useSession } from '../../api/session';

/** The PIN of whoever is signed in, which signs what they saw. */
export function OwnPIN({ pin, onPIN }: { pin: string; onPIN: (pin: string) => void }) {
  const { person } = useSession();
  return (
    <PasswordInput
      label={`PIN of ${person?.name ?? ''}`}
      value={pin}
      onChange={(e) => onPIN(e.currentTarget.value)}
      inputMode="numeric"
      autoComplete="off"
    />
  );
}

/** The end of a look or a note: signed by PIN, or kept on the device to be signed with the others of the walk. */
export function SignPart({
  what,
  unsigned,
  away,
  pin,
  onPIN,
  error,
  ready,
  onBack,
}: {
  what: string; // that is signed or kept
  unsigned: boolean;
  away: boolean; // from the network
  pin: string;
  onPIN: (pin: string) => void;
  error: string | undefined;
  ready: boolean; // all is answered, and nothing is on its way
  onBack: () => void;
}) {
  return (
    <>
      {unsigned ? (
        <p className="dim">
          {away ? 'No signal. ' : ''}It is kept on this device, with its time, and signed with the others by one PIN.
        </p>
      ) : (
        <OwnPIN pin={pin} onPIN={onPIN} />
      )}
      {error && (
        <p className="wrong" role="alert">
          {error}
        </p>
      )}
      <div className="walk-acts">
        <button type="submit" className="btn now tall" disabled={!ready || (!unsigned && !pin)}>
          {unsigned ? 'Keep' : 'Sign'} {what}
        </button>
        <button type="button" className="btn tall" onClick={onBack}>
          Back
        </button>
      </div>
    </>
  );
}
