import type { RunView } from '../../api/client';
import { useSession } from '../../api/session';

/** Says to whoever is signed in what they have no training for, before they take the tool. */
export function NotTrained({ list }: { list: RunView['untrained'] | undefined }) {
  const { person } = useSession();
  const mine = list?.find((u) => u.personId === person?.id);
  if (!mine) return null;
  return (
    <div className="not-trained finding stop" role="note">
      <p>{mine.says}</p>
      <p className="dim">
        {mine.blocks
          ? 'The house rules let nobody take the tool without it: let somebody else take it, or have it written down under People.'
          : 'Let somebody who is trained look on, or have it written down under People.'}
      </p>
    </div>
  );
}
