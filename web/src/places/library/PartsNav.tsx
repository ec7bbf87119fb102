import { SpotButton } from './ProcedureParts';
import { stopWord } from './Procedures';
import type { useProcedureDraft } from './useProcedureDraft';

/** The parts of a procedure, to open one; what has a fault is marked. */
export function PartsNav({ draft }: { draft: ReturnType<typeof useProcedureDraft> }) {
  const { family, faults, spot, setSpot, add } = draft;
  return (
    <nav aria-label="Parts of the procedure">
      <SpotButton
        label="The family"
        on={spot.list === 'general'}
        bad={faults.some((x) => !x.path.includes('.'))}
        onClick={() => setSpot({ list: 'general', code: '' })}
      />
      <h3>Fasteners</h3>
      {family.fasteners.map((g) => (
        <SpotButton
          key={g.code}
          label={g.name}
          on={spot.code === g.code}
          bad={faults.some((x) => x.path.startsWith(`fasteners.${g.code}`))}
          onClick={() => setSpot({ list: 'fasteners', code: g.code })}
        />
      ))}
      <h3>Steps</h3>
      {family.work.map((w) => (
        <SpotButton
          key={w.code}
          label={w.name ?? w.code}
          on={spot.list === 'work' && spot.code === w.code}
          bad={faults.some((x) => x.path.startsWith(`work.${w.code}`))}
          onClick={() => setSpot({ list: 'work', code: w.code })}
        />
      ))}
      <button type="button" className="btn plain sm" onClick={() => add('work')}>
        + a step
      </button>
      {(['ready', 'tighten', 'prove', 'hand_over'] as const).map((stop) => (
        <div key={stop}>
          <h3>{stopWord[stop]}</h3>
          {family.checks
            .filter((c) => c.station === stop)
            .map((c) => (
              <SpotButton
                key={c.code}
                label={c.title}
                on={spot.list === 'checks' && spot.code === c.code}
                bad={faults.some((x) => x.path.startsWith(`checks.${c.code}`))}
                onClick={() => setSpot({ list: 'checks', code: c.code })}
              />
            ))}
        </div>
      ))}
      <button type="button" className="btn plain sm" onClick={() => add('checks')}>
        + a check
      </button>
    </nav>
  );
}
