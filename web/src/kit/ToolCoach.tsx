import type { Coach, Tool } from '../api/client';
import { Gauge } from './Gauge';
import { num, unitText } from './numbers';
import { ScaleCoach } from './ScaleCoach';

interface CoachProps {
  tool: Tool;
  setting: number;
  coach: Coach | undefined; // of a scale on a grip
  width: number;
  compact?: boolean;
  pull?: string[] | undefined; // what to do at each fastener
}

const reads = (t: Tool, v: number) => {
  const marks = v / t.graduation;
  const main = t.mainStep || t.graduation * 5;
  const below = Math.floor(v / main + 1e-9) * main;
  const past = Math.round((v - below) / t.graduation);
  if (Math.abs(marks - Math.round(marks)) > 1e-6) return `between two marks, at ${num(v)}`;
  return past === 0 ? `on the ${num(below)} line` : `${past} mark${past === 1 ? '' : 's'} past ${num(below)}`;
};

/** How a value is set, or read, on the tool in hand: its own scale drawn, never another. */
export function ToolCoach({ tool, setting, coach, width, compact, pull }: CoachProps) {
  const unit = unitText(tool.unit);
  const other = tool.secondUnit ? ` The ${unit} side, not the ${unitText(tool.secondUnit)} one.` : '';
  if (tool.kind === 'click' && coach) {
    return (
      <>
        <ScaleCoach coach={coach} wrench={tool} width={width} {...(compact ? { compact: true } : {})} />
        {!compact && (
          <p className="dim">
            {(pull ?? []).join(' ')}
            {other}
          </p>
        )}
      </>
    );
  }
  if (tool.kind === 'pump' || tool.kind === 'dial') {
    return (
      <div className="gauge-coach">
        <Gauge
          value={setting}
          max={tool.ratedMax}
          step={tool.graduation}
          main={tool.mainStep}
          unit={tool.unit}
          size={compact ? 110 : 164}
        />
        <div>
          <p className="says">
            {tool.kind === 'pump' ? 'Needle ' : 'Pull until the pointer stands '}
            <b>{reads(tool, setting)}</b>.
          </p>
          <p className="dim">
            One mark is {num(tool.graduation)} {unit}.{other} Good to {num(tool.ratedMax)} {unit}, certificate to{' '}
            {tool.calibrationEnds}.
          </p>
          {!compact && pull && pull.length > 0 && (
            <ol className="routine">
              {pull.map((p) => (
                <li key={p}>{p}</li>
              ))}
            </ol>
          )}
        </div>
      </div>
    );
  }
  if (tool.kind === 'electronic' || tool.kind === 'electronic_angle') {
    return (
      <div className="gauge-coach">
        <span className="digits m" role="img" aria-label={`Key in ${num(setting)} ${unit}`}>
          {setting.toFixed(tool.graduation < 1 ? 1 : 0)} <small>{unit}</small>
        </span>
        <p className="dim">
          Key in {num(setting)} and look that it says {unit}. It beeps from nine tenths on and buzzes at the value: then
          stop.{other}
        </p>
      </div>
    );
  }
  return (
    <p className="dim">
      {tool.kind === 'preset'
        ? `${tool.tag} is preset to ${num(tool.ratedMax)} ${unit}: look at its label.`
        : `Turn the collar to ${num(setting)} ${unit}, lock it.`}
      {other}
    </p>
  );
}
