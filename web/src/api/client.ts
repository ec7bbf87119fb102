import { type QueryClient, useQuery } from '@tanstack/react-query';
import createClient from 'openapi-fetch';
import { consent } from './consent';
import type { components, paths } from './schema';

type S = components['schemas'];
export type DossierEntry = S['DossierEntry'];
export type DossierGap = S['DossierGap'];
export type ShiftActivity = S['ShiftActivity'];
export type ShiftPlan = S['ShiftPlan'];
export type WalkJoint = S['WalkJoint'];
export type WalkRound = S['WalkRound'];
export type WalkAlong = S['WalkAlong'];
export type PlantNote = S['PlantNote'];
export type WalkLook = S['WalkLook'];
export type WalkLookResult = S['WalkLookResult'];
export type WalkAnswer = S['WalkAnswer'];
export type HandoverView = S['HandoverView'];
export type Need = S['Need'];
export type StockLine = S['StockLine'];
export type ProgressView = S['ProgressView'];
export type ShiftAsk = S['ShiftAsk'];
export type ShiftVerdict = S['ShiftVerdict'];
export type ShiftStands = S['ShiftStands'];
export type Constraints = S['Constraints'];
export type ConstraintsView = S['ConstraintsView'];
export type JointConstraint = S['JointConstraint'];
export type LabelStock = S['LabelStock'];
export type DossierView = S['DossierView'];
export type Plan = S['Plan'];
export type FastenerGroup = S['FastenerGroup'];
export type Family = S['Family'];
export type FamilyRow = S['FamilyRow'];
export type Fasteners = S['Fasteners'];
export type PassState = S['PassState'];
export type Layout = S['Layout'];
export type Fault = S['Fault'];
export type ProcedureDetail = S['ProcedureDetail'];
export type Specification = S['Specification'];
export type Choices = S['Choices'];
export type GroupChoices = S['GroupChoices'];
export type RunEvent = S['Event'];
export type RunState = S['State'];
/** A signature that somebody may give now, as core names it. */
export interface Signable {
  purpose: string;
  check?: string;
  ref?: string;
  pass?: number;
}
export type RunView = S['RunView'];
export type Entry = S['Entry'];
export type JointDetail = S['JointDetail'];
export type JointRow = S['JointRow'];
export type FastenerState = S['FastenerState'];
export type CheckState = S['CheckState'];
export type ProcedureCheck = S['ProcedureCheck'];
export type Person = S['Person'];
export type Session = S['Session'];
export type LoginRow = S['LoginRow'];
export type Tool = S['Tool'];
export type SetUp = S['SetUp'];
export type Offer = S['Offer'];
export type Found = S['Found'];
export type Span = S['Span'];
export type KindView = S['KindView'];
export type HandState = S['HandState'];
export type Doubt = S['Doubt'];
export type DeviceResult = S['DeviceResult'];
export type ToolView = S['ToolView'];
export type ToolDetail = S['ToolDetail'];
export type Finding = S['Finding'];
export type Working = S['Working'];
export type Today = S['Today'];
export type Coach = S['Coach'];
export type Deviation = S['Deviation'];
export type ImportResult = S['ImportResult'];
export type ImportedRow = S['ImportedRow'];
export type UndoResult = S['UndoResult'];
export type AuditRow = S['AuditRow'];
export type Reading = S['Reading'];
export type Verification = S['Verification'];
export type RecordView = S['RecordView'];
export type Addition = S['Addition'];
export type Life = S['Life'];
export type LifeMark = S['LifeMark'];
export type Comparison = S['Comparison'];
export type Numbers = S['Numbers'];
export type NumbersRow = S['NumbersRow'];
export type PressureTest = S['PressureTest'];
export type PressureTestSpec = S['PressureTestSpec'];
export type PressureTestKind = S['PressureTestKind'];
export type PressureTestEventInput = S['PressureTestEventInput'];
export type Problem = S['Problem'];
export type Site = S['Site'];
export type Crew = S['Crew'];
export type Member = S['Member'];
export type Training = S['Training'];
export type Given = S['Given'];

/** What was refused, and of which field, in the words for people: a field's name is for programs. */
export function refusedField(e: unknown): { field: string; text: string } {
  const field = e instanceof Refused ? (e.field ?? '') : '';
  let text = (e as Error).message;
  if (e instanceof Refused && field && e.problem.title.startsWith(field))
    text = `${e.problem.title.slice(field.length).trim()} ${e.problem.remedy ?? ''}`;
  return { field, text: text.charAt(0).toUpperCase() + text.slice(1) };
}

export const api = createClient<paths>({ baseUrl: '/api' });
api.use(consent);

/** What the server refused, in its own words. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super([problem.title, problem.detail, problem.remedy].filter(Boolean).join(' '));
  }
  get field() {
    return this.problem.field;
  }
}

/** No answer came: no signal, or the server is away. */
export class NoSignal extends Error {
  constructor() {
    super('No signal. What you kept is on this device; this needs the network. Try again when it is back.');
  }
}

/** Unwraps an answer: data, or Refused, or NoSignal. */
export async function must<T>(answer: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let res: { data?: T; error?: unknown; response: Response };
  try {
    res = await answer;
  } catch {
    throw new NoSignal();
  }
  if (res.error !== undefined || !res.response.ok) {
    if (res.response.status >= 502) throw new NoSignal();
    throw new Refused(
      (res.error as Problem) ?? { title: 'Something broke here. What was kept is safe.', status: res.response.status },
    );
  }
  return res.data as T;
}

const stale = 5_000;

export const useToday = () =>
  useQuery({ queryKey: ['today'], queryFn: () => must(api.GET('/today')), refetchInterval: 30_000 });
export const useCrib = () => useQuery({ queryKey: ['tools'], queryFn: () => must(api.GET('/crib')), staleTime: stale });
export const useKinds = () =>
  useQuery({ queryKey: ['kinds'], queryFn: () => must(api.GET('/tool-kinds')), staleTime: Number.POSITIVE_INFINITY });
export const useDoubts = () =>
  useQuery({ queryKey: ['tools', 'doubts'], queryFn: () => must(api.GET('/doubts')), staleTime: stale });
export const useTool = (tag: string | undefined) =>
  useQuery({
    queryKey: ['tools', 'one', tag],
    queryFn: () => must(api.GET('/tools/{tag}', { params: { path: { tag: tag ?? '' } } })),
    enabled: !!tag,
  });
export const useLibrary = () =>
  useQuery({ queryKey: ['library'], queryFn: () => must(api.GET('/library')), staleTime: 60_000 });
export const useFamilies = () =>
  useQuery({ queryKey: ['library', 'families'], queryFn: () => must(api.GET('/families')), staleTime: 60_000 });
export const useProcedure = (code: string | undefined, version = 0) =>
  useQuery({
    queryKey: ['library', 'procedure', code, version],
    queryFn: () => must(api.GET('/procedures/{code}', { params: { path: { code: code ?? '' }, query: { version } } })),
    enabled: !!code,
    staleTime: 60_000,
    retry: false,
  });
export const useSite = () => useQuery({ queryKey: ['site'], queryFn: () => must(api.GET('/site')), staleTime: stale });
export const useCrew = () => useQuery({ queryKey: ['crew'], queryFn: () => must(api.GET('/crew')), staleTime: stale });
export const usePeople = () =>
  useQuery({ queryKey: ['people'], queryFn: () => must(api.GET('/people')), staleTime: 60_000 });
export const usePackages = () =>
  useQuery({ queryKey: ['packages'], queryFn: () => must(api.GET('/packages')), staleTime: stale });
export const useJoint = (tag: string) =>
  useQuery({
    queryKey: ['joint', tag],
    queryFn: () => must(api.GET('/joints/{tag}', { params: { path: { tag } } })),
    retry: false,
  });
export const useRecord = (number: string) =>
  useQuery({
    queryKey: ['record', number],
    queryFn: () => must(api.GET('/records/{number}', { params: { path: { number } } })),
    retry: false,
  });

/** Lubricant cards to choose from: one by each code, the site's own before a built-in one of the same code. */
export const lubricantChoices = (list: S['Lubricant'][] | undefined) =>
  [
    ...new Map(
      [...(list ?? [])]
        .reverse()
        .map((l) => [l.code, { value: l.code, label: l.name, disabled: !!l.notForTorqueControl }]),
    ).values(),
  ].reverse();

/** Everything a change at one joint may have changed elsewhere. */
export function jointChanged(qc: QueryClient, tag: string) {
  void qc.invalidateQueries({ queryKey: ['joint', tag] });
  void qc.invalidateQueries({ queryKey: ['joints'] });
  void qc.invalidateQueries({ queryKey: ['today'] });
}
