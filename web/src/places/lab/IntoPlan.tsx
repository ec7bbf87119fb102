import { Textarea } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { api, must } from '../../api/client';
import { useSession } from '../../api/session';
import { picking } from '../../kit/choices';
import { firstOf } from '../../rosette/GroupRosette';
import type { Compensated } from './ask';

/** Targets of its own for each bolt go into the plan of the joint when an engineer accepts them and says why. */
export function IntoPlan({ tag, made }: { tag: string; made: Compensated }) {
  const { may } = useSession();
  const client = useQueryClient();
  const [reason, setReason] = useState('');
  const [wrong, setWrong] = useState('');
  const [busy, setBusy] = useState(false);
  const [version, setVersion] = useState<number>();
  if (!made.asPlanned)
    return <p className="dim">{tag} is planned in another way: only targets for that way can go into its plan.</p>;
  if (!may('savePlan')) return <p className="dim">Who plans can put them into the plan of {tag}, with an engineer.</p>;
  if (version)
    return (
      <p role="status">
        They stand in the plan of {tag}, version {version}.{' '}
        <Link to="/joints/$tag" params={{ tag }}>
          Look at it
        </Link>
      </p>
    );
  const keep = async () => {
    setBusy(true);
    setWrong('');
    try {
      const own = { ownTargets: made.percents };
      const now = await must(api.GET('/joints/{tag}', { params: { path: { tag } } }));
      const kept = await must(
        api.POST('/joints/{tag}/plans', {
          params: { path: { tag } },
          body: {
            choices: now.plan ? picking(now.plan.choices, now.plan, firstOf(now.plan), own) : { groups: [own] },
            reason,
          },
        }),
      );
      setVersion(kept.saved?.version);
      void client.invalidateQueries({ queryKey: ['joint', tag] });
    } catch (e) {
      setWrong((e as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <div className="into-plan">
      <Textarea
        label={`Why they are right for ${tag}`}
        autosize
        minRows={2}
        maxLength={500}
        value={reason}
        onChange={(e) => setReason(e.currentTarget.value)}
        error={wrong}
      />
      <p className="dim">It takes the PIN of an engineer.</p>
      <button
        type="button"
        className="btn"
        disabled={busy || made.yields || !reason.trim()}
        onClick={() => void keep()}
      >
        Accept into the plan of {tag}
      </button>
    </div>
  );
}
