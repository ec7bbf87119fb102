import { Modal } from '@mantine/core';
import { Link } from '@tanstack/react-router';
import type { components } from '../../api/schema';

type Change = components['schemas']['LabChange'];

/** What the Lab says of other stages or another order, before they are taken over. */
export function ComparePlan({
  change,
  busy,
  onBack,
  onTake,
}: {
  change: Change | undefined;
  busy: boolean;
  onBack: () => void;
  onTake: (says: string) => void;
}) {
  return (
    <Modal opened={!!change} onClose={onBack} title="Other stages, or another order">
      {change && (
        <>
          <p>The house rules ask to compare both in the Lab first. The plan will name what it says:</p>
          <p style={{ fontSize: 17 }}>
            <b>{change.says}</b>
          </p>
          <div className="row-btns">
            <button type="button" className="btn now" disabled={busy} onClick={() => onTake(change.says)}>
              Take it over
            </button>
            <Link className="btn" to="/lab" search={{ joint: change.setup, a: change.was, b: change.now }}>
              Look at both in the Lab
            </Link>
          </div>
        </>
      )}
    </Modal>
  );
}
