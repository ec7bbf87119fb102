import { Checkbox } from '@mantine/core';
import { Cautions } from '../../kit/Cautions';

/** What must be so before the first fastener is let go, each ticked by whoever lets it go. */
export function MadeSure({
  cautions,
  gates,
  sure,
  onChange,
}: {
  cautions: string[] | undefined;
  gates: string[];
  sure: string[];
  onChange: (sure: string[]) => void;
}) {
  if (!gates.length) return <Cautions list={cautions} />;
  return (
    <fieldset className="made-sure">
      <legend>Before the first is let go</legend>
      <Cautions list={cautions} />
      {gates.map((g) => (
        <Checkbox
          key={g}
          size="lg"
          label={g}
          checked={sure.includes(g)}
          onChange={(e) => onChange(e.currentTarget.checked ? [...sure, g] : sure.filter((x) => x !== g))}
        />
      ))}
    </fieldset>
  );
}
