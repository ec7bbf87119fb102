import type { CheckState, Plan, ProcedureCheck, RunEvent } from '../../api/client';
import type { LocalRun } from '../../api/runStore';
import { ConditionForm } from './ConditionForm';
import { ConfirmForm } from './ConfirmForm';
import { FatesForm } from './FatesForm';
import {
  ClockForm,
  MatchForm,
  OrientationForm,
  ResponsibleForm,
  SequenceForm,
  TemporaryForm,
  TestForm,
} from './FitForms';
import { LubricantForm } from './LubricantForm';
import { MeasureForm } from './MeasureForm';
import { PartsForm } from './PartsForm';
import { type Take, ToolsForm } from './ToolsForm';

interface FormProps {
  check: ProcedureCheck;
  state: CheckState;
  plan: Plan;
  run: LocalRun;
  onAnswer: (e: Partial<RunEvent>) => void;
  onTake: Take;
}

export function AnswerForm({ check, state, plan, run, onAnswer, onTake }: FormProps) {
  switch (check.kind) {
    case 'measure':
      return <MeasureForm check={check} state={state} run={run} onAnswer={onAnswer} />;
    case 'lubricant':
      return <LubricantForm check={check} plan={plan} onAnswer={onAnswer} />;
    case 'orientation':
      return <OrientationForm check={check} onAnswer={onAnswer} />;
    case 'match':
      return <MatchForm check={check} state={state} onAnswer={onAnswer} />;
    case 'sequence':
      return <SequenceForm check={check} onAnswer={onAnswer} />;
    case 'clock':
      return <ClockForm check={check} state={state} onAnswer={onAnswer} />;
    case 'temporary':
      return <TemporaryForm check={check} onAnswer={onAnswer} />;
    case 'test':
      return <TestForm check={check} onAnswer={onAnswer} />;
    case 'responsible':
      return <ResponsibleForm check={check} onAnswer={onAnswer} />;
    case 'fates':
      return <FatesForm plan={plan} onAnswer={onAnswer} />;
    case 'parts':
      return <PartsForm plan={plan} onAnswer={onAnswer} />;
    case 'wrench':
      return <ToolsForm plan={plan} run={run} group={check.fasteners} onTake={onTake} />;
    case 'condition':
      return <ConditionForm check={check} run={run} onAnswer={onAnswer} />;
  }
  return <ConfirmForm check={check} run={run} onAnswer={onAnswer} />;
}
