import { createRootRoute, createRoute, createRouter, lazyRouteComponent } from '@tanstack/react-router';
import type { LabProcedure, LabSearch, LabSetup } from '../places/lab/ask';
import { Shell } from './shell';

const root = createRootRoute({ component: Shell });

/** What was put into a sheet: by key, as typed; rows of tables as they are. */
type Values = Record<string, unknown>;
const values = (v: unknown) => (typeof v === 'object' && v && !Array.isArray(v) ? (v as Values) : undefined);

const text = (v: unknown) => (typeof v === 'string' && v ? v : undefined);
const texts = (v: unknown) => {
  const list = (Array.isArray(v) ? v : [v]).filter((x): x is string => typeof x === 'string' && x !== '');
  return list.length > 0 ? list : undefined;
};

const today = createRoute({
  getParentRoute: () => root,
  path: '/',
  component: lazyRouteComponent(() => import('../places/today/Today'), 'TodayPlace'),
});
const joints = createRoute({
  getParentRoute: () => root,
  path: '/joints',
  validateSearch: (
    s: Record<string, unknown>,
  ): { q?: string; area?: string; glyph?: string; package?: string; sort?: string; view?: string } => ({
    q: text(s.q),
    area: text(s.area),
    glyph: text(s.glyph),
    package: text(s.package),
    sort: text(s.sort),
    view: text(s.view),
  }),
  component: lazyRouteComponent(() => import('../places/joints/Joints'), 'JointsPlace'),
});
const newJoint = createRoute({
  getParentRoute: () => root,
  path: '/joints/new',
  component: lazyRouteComponent(() => import('../places/joints/NewJoint'), 'NewJointPage'),
});
const importJoints = createRoute({
  getParentRoute: () => root,
  path: '/joints/import',
  component: lazyRouteComponent(() => import('../places/joints/Import'), 'ImportPage'),
});
const joint = createRoute({
  getParentRoute: () => root,
  path: '/joints/$tag',
  validateSearch: (
    s: Record<string, unknown>,
  ): { station?: string; check?: string; torque?: number; from?: string } => ({
    station: text(s.station) ?? text(s.stop), // links once said stop
    check: text(s.check),
    torque: typeof s.torque === 'number' && s.torque > 0 ? s.torque : undefined, // worked out on the bench, to become the target
    from: text(s.from),
  }),
  component: lazyRouteComponent(() => import('../places/joint/Joint'), 'JointPlace'),
});
const life = createRoute({
  getParentRoute: () => root,
  path: '/joints/$tag/life',
  component: lazyRouteComponent(() => import('../places/life/Life'), 'LifePlace'),
});
const scan = createRoute({
  getParentRoute: () => root,
  path: '/scan',
  validateSearch: (
    s: Record<string, unknown>,
  ): { person?: string; lubricant?: string; batch?: string; useBy?: string; host?: string } => ({
    person: text(s.person),
    lubricant: text(s.lubricant),
    batch: typeof s.batch === 'number' ? String(s.batch) : text(s.batch),
    useBy: text(s.useBy),
    host: text(s.host),
  }),
  component: lazyRouteComponent(() => import('../scan/ScanPage'), 'ScanPage'),
});
const shift = createRoute({
  getParentRoute: () => root,
  path: '/shift',
  validateSearch: (
    s: Record<string, unknown>,
  ): {
    package?: string;
    day?: string;
    days?: number;
    from?: string;
    to?: string;
    breakFrom?: string;
    breakTo?: string;
    at?: string;
    anew?: boolean;
  } => ({
    package: text(s.package),
    day: text(s.day),
    days: typeof s.days === 'number' && s.days >= 1 && s.days <= 14 ? Math.round(s.days) : undefined,
    from: text(s.from),
    to: text(s.to),
    breakFrom: typeof s.breakFrom === 'string' ? s.breakFrom : undefined, // "": there is none
    breakTo: typeof s.breakTo === 'string' ? s.breakTo : undefined,
    at: text(s.at),
    anew: s.anew === true ? true : undefined,
  }),
  component: lazyRouteComponent(() => import('../places/shift/Shift'), 'ShiftPlace'),
});
const progress = createRoute({
  getParentRoute: () => root,
  path: '/progress',
  validateSearch: (s: Record<string, unknown>): { package?: string } => ({ package: text(s.package) }),
  component: lazyRouteComponent(() => import('../places/progress/Progress'), 'ProgressPlace'),
});
const needs = createRoute({
  getParentRoute: () => root,
  path: '/needs',
  validateSearch: (s: Record<string, unknown>): { package?: string } => ({ package: text(s.package) }),
  component: lazyRouteComponent(() => import('../places/needs/Needs'), 'NeedsPlace'),
});
const labPlace = createRoute({
  getParentRoute: () => root,
  path: '/lab',
  validateSearch: (s: Record<string, unknown>): LabSearch => ({
    ...(typeof s.tag === 'string' && s.tag && { tag: s.tag }),
    ...(typeof s.run === 'string' && s.run && { run: s.run }),
    ...(typeof s.joint === 'object' && s.joint && { joint: s.joint as LabSetup }),
    ...(typeof s.a === 'object' && s.a && { a: s.a as LabProcedure }),
    ...(typeof s.b === 'object' && s.b && { b: s.b as LabProcedure }),
  }),
  component: lazyRouteComponent(() => import('../places/lab/Lab'), 'LabPlace'),
});
const walk = createRoute({
  getParentRoute: () => root,
  path: '/walk',
  validateSearch: (s: Record<string, unknown>): { at?: string; check?: boolean; note?: string } => ({
    ...(typeof s.at === 'string' && s.at && { at: s.at }),
    ...(s.check === true && { check: true }),
    ...(typeof s.note === 'string' && { note: s.note }), // 'new', or a kept one to be corrected
  }),
  component: lazyRouteComponent(() => import('../places/walk/Walk'), 'WalkPlace'),
});
const handover = createRoute({
  getParentRoute: () => root,
  path: '/handover',
  component: lazyRouteComponent(() => import('../places/handover/HandOver'), 'HandOverPlace'),
});
const due = createRoute({
  getParentRoute: () => root,
  path: '/due',
  validateSearch: (s: Record<string, unknown>): { all?: boolean; kind?: string } => ({
    all: s.all === true ? true : undefined,
    kind: text(s.kind),
  }),
  component: lazyRouteComponent(() => import('../places/due/Due'), 'DuePlace'),
});
const shiftConstraints = createRoute({
  getParentRoute: () => root,
  path: '/shift/constraints',
  validateSearch: (s: Record<string, unknown>): { package?: string; at?: string } => ({
    package: text(s.package),
    at: text(s.at),
  }),
  component: lazyRouteComponent(() => import('../places/shift/Constraints'), 'ConstraintsPlace'),
});
const shiftImport = createRoute({
  getParentRoute: () => root,
  path: '/shift/import',
  validateSearch: (s: Record<string, unknown>): { package?: string } => ({ package: text(s.package) }),
  component: lazyRouteComponent(() => import('../places/shift/ImportJobs'), 'ImportJobs'),
});
const labels = createRoute({
  getParentRoute: () => root,
  path: '/labels',
  validateSearch: (s: Record<string, unknown>): { of?: string; ids?: string; package?: string; stock?: string } => ({
    of: text(s.of),
    ids: text(s.ids),
    package: text(s.package),
    stock: text(s.stock),
  }),
  component: lazyRouteComponent(() => import('../places/labels/Labels'), 'LabelsPlace'),
});
const tests = createRoute({
  getParentRoute: () => root,
  path: '/joints/tests',
  component: lazyRouteComponent(() => import('../places/tests/Tests'), 'TestsPlace'),
});
const newTest = createRoute({
  getParentRoute: () => root,
  path: '/joints/tests/new',
  validateSearch: (s: Record<string, unknown>): { from?: string; change?: string; joint?: string } => ({
    from: text(s.from),
    change: text(s.change),
    joint: text(s.joint),
  }),
  component: lazyRouteComponent(() => import('../places/tests/LayOut'), 'LayOutPage'),
});
const test = createRoute({
  getParentRoute: () => root,
  path: '/joints/tests/$tag',
  component: lazyRouteComponent(() => import('../places/tests/Test'), 'TestPlace'),
});
const crib = createRoute({
  getParentRoute: () => root,
  path: '/crib',
  validateSearch: (s: Record<string, unknown>): { tool?: string; view?: string; q?: string } => ({
    tool: text(s.tool),
    view: text(s.view),
    q: text(s.q),
  }),
  component: lazyRouteComponent(() => import('../places/crib/Crib'), 'CribPlace'),
});
const importTools = createRoute({
  getParentRoute: () => root,
  path: '/crib/import',
  component: lazyRouteComponent(() => import('../places/crib/ImportTools'), 'ImportTools'),
});
const bench = createRoute({
  getParentRoute: () => root,
  path: '/bench',
  validateSearch: (s: Record<string, unknown>): { q?: string } => ({ q: text(s.q) }),
  component: lazyRouteComponent(() => import('../places/bench/Bench'), 'BenchPlace'),
});
const sheet = createRoute({
  getParentRoute: () => root,
  path: '/bench/$name',
  validateSearch: (s: Record<string, unknown>): { in?: Values; units?: Record<string, string> } => ({
    in: values(s.in),
    units: values(s.units) as Record<string, string> | undefined,
  }),
  component: lazyRouteComponent(() => import('../places/bench/Sheet'), 'SheetPage'),
});
const library = createRoute({
  getParentRoute: () => root,
  path: '/library',
  validateSearch: (s: Record<string, unknown>): { shelf?: string; q?: string; value?: string } => ({
    shelf: text(s.shelf),
    q: text(s.q),
    value: typeof s.value === 'string' || typeof s.value === 'number' ? String(s.value) : undefined, // "": a new one
  }),
  component: lazyRouteComponent(() => import('../places/library/Library'), 'LibraryPlace'),
});
const records = createRoute({
  getParentRoute: () => root,
  path: '/records',
  validateSearch: (s: Record<string, unknown>): { q?: string; facet?: string[]; from?: string; to?: string } => ({
    q: text(s.q),
    facet: texts(s.facet),
    from: text(s.from),
    to: text(s.to),
  }),
  component: lazyRouteComponent(() => import('../places/records/Records'), 'RecordsPlace'),
});
const numbers = createRoute({
  getParentRoute: () => root,
  path: '/numbers',
  validateSearch: (
    s: Record<string, unknown>,
  ): { of?: string; by?: string; from?: string; to?: string; family?: string } => ({
    of: text(s.of),
    by: text(s.by),
    from: text(s.from),
    to: text(s.to),
    family: text(s.family),
  }),
  component: lazyRouteComponent(() => import('../places/numbers/Numbers'), 'NumbersPlace'),
});
const record = createRoute({
  getParentRoute: () => root,
  path: '/records/$number',
  component: lazyRouteComponent(() => import('../places/records/Record'), 'RecordPage'),
});
const books = createRoute({
  getParentRoute: () => root,
  path: '/books',
  component: lazyRouteComponent(() => import('../places/books/Books'), 'BooksPlace'),
});
const book = createRoute({
  getParentRoute: () => root,
  path: '/books/$code',
  component: lazyRouteComponent(() => import('../places/books/Book'), 'BookPage'),
});
const elsewhere = createRoute({
  getParentRoute: () => root,
  path: '/elsewhere',
  component: lazyRouteComponent(() => import('../places/records/Elsewhere'), 'ElsewherePage'),
});
const verify = createRoute({
  getParentRoute: () => root,
  path: '/verify',
  component: lazyRouteComponent(() => import('../places/records/Verify'), 'VerifyPage'),
});
const keys = createRoute({
  getParentRoute: () => root,
  path: '/keys',
  component: lazyRouteComponent(() => import('../places/records/Keys'), 'KeysPage'),
});
const audit = createRoute({
  getParentRoute: () => root,
  path: '/audit',
  component: lazyRouteComponent(() => import('../places/records/Audit'), 'AuditPage'),
});

const site = createRoute({
  getParentRoute: () => root,
  path: '/site',
  validateSearch: (s: Record<string, unknown>): { view?: string; person?: string } => ({
    view: text(s.view),
    person: text(s.person),
  }),
  component: lazyRouteComponent(() => import('../places/site/Site'), 'SitePlace'),
});

export const router = createRouter({
  routeTree: root.addChildren([
    today,
    joints,
    newJoint,
    importJoints,
    joint,
    life,
    scan,
    labels,
    shift,
    due,
    handover,
    walk,
    labPlace,
    needs,
    progress,
    shiftConstraints,
    shiftImport,
    tests,
    newTest,
    test,
    crib,
    importTools,
    bench,
    sheet,
    library,
    records,
    numbers,
    books,
    book,
    elsewhere,
    record,
    verify,
    keys,
    audit,
    site,
  ]),
  defaultPreload: 'intent',
  scrollRestoration: true,
  scrollToTopSelectors: ['.places'], // what scrolls is not the window
  defaultNotFoundComponent: () => <p className="empty">There is no such place. Use the line at the top.</p>,
  defaultErrorComponent: () => (
    <p className="empty">
      This sheet did not open. What you kept is safe. Reload it; if it stays so, tell the planner.
    </p>
  ),
});

declare module '@tanstack/react-router' {
  interface Register {
    router: typeof router;
  }
}
