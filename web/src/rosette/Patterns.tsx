/** The hatches. They carry the state where colour is missing: in a photocopy, in glare, for eyes that do not tell red from green. */
export function Patterns() {
  return (
    <svg width="0" height="0" style={{ position: 'absolute' }} aria-hidden="true">
      <defs>
        <pattern id="hHold" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="6" height="6" style={{ fill: 'var(--hold)' }} />
          <rect width="2" height="6" style={{ fill: 'var(--hold-line)' }} />
        </pattern>
        <pattern id="hHoldS" width="3.6" height="3.6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="3.6" height="3.6" style={{ fill: 'var(--hold)' }} />
          <rect width="1.1" height="3.6" style={{ fill: 'var(--hold-line)' }} />
        </pattern>
        <pattern id="hRej" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="6" height="6" style={{ fill: 'var(--rej-wash)' }} />
          <path d="M0 3H6M3 0V6" style={{ stroke: 'var(--rej)', strokeWidth: 1.7 }} />
        </pattern>
        <pattern id="hRejS" width="3.6" height="3.6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="3.6" height="3.6" style={{ fill: 'var(--rej-wash)' }} />
          <path d="M0 1.8H3.6M1.8 0V3.6" style={{ stroke: 'var(--rej)', strokeWidth: 1.1 }} />
        </pattern>
        <pattern id="hNow" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
          <rect width="5" height="5" style={{ fill: 'var(--now-wash)' }} />
          <rect width="1.3" height="5" style={{ fill: 'var(--now)' }} />
        </pattern>
        <pattern id="hCut" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width=".9" height="6" style={{ fill: 'var(--ink-3)' }} />
        </pattern>
        <pattern id="hCutB" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
          <rect width=".9" height="6" style={{ fill: 'var(--ink-3)' }} />
        </pattern>
      </defs>
    </svg>
  );
}
