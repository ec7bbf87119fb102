import type { components } from '../../api/schema';
import { inUnit, num } from '../../kit/numbers';

type S = components['schemas'];
export type Library = S['Library'];
export type LibraryValue = S['LibraryValue'];
export type ShelfCode = 'lubricants' | 'materials' | 'gaskets' | 'threads' | 'tables' | 'flanges';

/** One box of the form for a site's own value. */
export interface Entry {
  key: string; // field of the value; k.low and the like for the parts of a band
  label: string;
  kind: 'text' | 'number' | 'choice' | 'many' | 'yes' | 'words' | 'rows';
  choices?: [string, string][];
  field?: string; // how a refusal names it, when not by its key
  wide?: boolean;
}

export interface Row {
  code: string;
  value: LibraryValue; // what a site's own one would start from
  version: number; // 0: built in
  cells: (string | number | null)[];
  words: string; // for searching
  flag?: string;
  note?: string;
}

export const sources: Record<string, string> = {
  maker_tested: 'tested by its maker',
  site_measured: 'measured on site',
  project_specified: 'laid down by the project',
  library: 'typical, confirm by test',
};

const band = (key: string, label: string): Entry[] =>
  (['low', 'typ', 'high'] as const).map((p) => ({
    key: `${key}.${p}`,
    label: `${label}, ${p === 'typ' ? 'typical' : p}`,
    kind: 'number',
    field: key,
  }));

const words = (s: string) => s.replaceAll('_', ' ');

export const entries = (shelf: ShelfCode, l: Library): Entry[] => {
  switch (shelf) {
    case 'lubricants':
      return [
        { key: 'name', label: 'Name, as on the tin', kind: 'text' },
        {
          key: 'condition',
          label: 'Is a case of',
          kind: 'choice',
          choices: l.lubricants.filter((x) => x.source === 'library').map((x) => [x.code, x.name]),
        },
        {
          key: 'source',
          label: 'Who stands for the value',
          kind: 'choice',
          choices: ['maker_tested', 'site_measured', 'project_specified'].map((s) => [s, sources[s] ?? s]),
        },
        ...band('k', 'Nut factor K'),
        ...band('muThread', 'Friction, thread'),
        ...band('muHead', 'Friction, face'),
        {
          key: 'suits',
          label: 'Documented for (service)',
          kind: 'many',
          choices: l.services.filter((s) => s !== 'general').map((s) => [s, words(s)]),
        },
        { key: 'methods', label: 'Ways of applying it, by comma', kind: 'words' },
        { key: 'notForTorqueControl', label: 'Not for torque control', kind: 'yes' },
        { key: 'note', label: 'Evidence and remarks', kind: 'text', wide: true },
      ];
    case 'materials':
      return [
        {
          key: 'system',
          label: 'Threads',
          kind: 'choice',
          choices: [
            ['iso', 'metric'],
            ['un', 'inch'],
          ],
        },
        { key: 'yieldMPa', label: 'Yield, MPa', kind: 'number' },
        { key: 'tensileMPa', label: 'Tensile strength, MPa', kind: 'number' },
        { key: 'proofMPa', label: 'Proof stress, MPa (if stated)', kind: 'number' },
        { key: 'maxMm', label: 'Up to diameter, mm', kind: 'number' },
        { key: 'source', label: 'Standard or certificate', kind: 'text', wide: true },
      ];
    case 'gaskets':
      return [
        { key: 'name', label: 'Name', kind: 'text', wide: true },
        { key: 'targetMPa', label: 'Stress wanted, MPa', kind: 'number' },
        { key: 'maxMPa', label: 'Takes at most, MPa', kind: 'number' },
        { key: 'seatingMPa', label: 'Needs to seat, MPa', kind: 'number' },
        { key: 'operatingMPa', label: 'Needs in service, MPa', kind: 'number' },
        { key: 'source', label: "Maker's sheet or test", kind: 'text', wide: true },
        { key: 'note', label: 'Remarks', kind: 'text', wide: true },
      ];
    case 'threads':
      return [
        { key: 'bearingOuterMm', label: 'Bearing face, outside, mm', kind: 'number' },
        { key: 'holeMm', label: 'Hole, mm', kind: 'number' },
        { key: 'acrossFlatsMm', label: 'Across flats, mm', kind: 'number' },
        { key: 'source', label: 'Who measured, where', kind: 'text', wide: true },
      ];
    case 'flanges':
      return [
        { key: 'bolts', label: 'Bolts', kind: 'number' },
        { key: 'thread', label: 'Thread', kind: 'text' },
        { key: 'holeMm', label: 'Holes, mm', kind: 'number' },
        { key: 'boltCircleMm', label: 'Bolt circle, mm', kind: 'number' },
        { key: 'raisedFaceMm', label: 'Raised face, mm', kind: 'number' },
        { key: 'standard', label: 'Drawing, standard or who measured', kind: 'text', wide: true },
      ];
    case 'tables':
      return [
        { key: 'name', label: 'Name', kind: 'text', wide: true },
        { key: 'document', label: 'Document', kind: 'text' },
        { key: 'revision', label: 'Revision', kind: 'text' },
        { key: 'page', label: 'Page', kind: 'text' },
        {
          key: 'unit',
          label: 'Unit of the torques',
          kind: 'choice',
          choices: [
            ['N_m', 'N·m'],
            ['ft_lbf', 'ft·lbf'],
            ['in_lbf', 'in·lbf'],
            ['kgf_m', 'kgf·m'],
          ],
        },
        { key: 'tolerancePct', label: 'Tolerance of a nominal value, %', kind: 'number' },
        { key: 'keyNames', label: 'Looked up by, separated by commas', kind: 'words', wide: true },
        { key: 'rows', label: 'Lines: keys, then thread, then torque or least and most', kind: 'rows', wide: true },
      ];
  }
};

type TableRow = S['TableRow'];

/** The lines of a table as they are pasted from a spreadsheet: keys, thread, one torque or two. */
export function readRows(text: string, keys: number, figure: (text: string) => number): TableRow[] {
  return text
    .split('\n')
    .filter((l) => l.trim() !== '')
    .map((l) => {
      const cells = l.split(/\t|;|,(?=\s|[^0-9])/).map((c) => c.trim());
      const [thread = '', ...values] = cells.slice(keys);
      const v = values.filter((x) => x !== '').map(figure);
      return {
        keys: cells.slice(0, keys),
        ...(thread ? { thread } : {}),
        ...(v.length > 1 ? { min: v[0] ?? Number.NaN, max: v[1] ?? Number.NaN } : { nominal: v[0] ?? Number.NaN }),
      };
    });
}

/** The same lines back as text. */
export const writeRows = (rows: TableRow[]) =>
  rows
    .map((r) => [...r.keys, r.thread ?? '', ...(r.max ? [r.min ?? 0, r.max] : [r.nominal ?? 0])].join('; '))
    .join('\n');

/** The key of a LibraryValue in which a shelf keeps its value. */
export const slot = {
  lubricants: 'lubricant',
  materials: 'material',
  gaskets: 'gasket',
  threads: 'nut',
  tables: 'table',
  flanges: 'flange',
} as const;

export const heads: Record<ShelfCode, { names: string[]; figures: number[] }> = {
  lubricants: {
    names: ['Card', 'Name', 'K low', 'typical', 'high', 'μ thread', 'μ face', 'Documented for', 'Where it comes from'],
    figures: [2, 3, 4, 5, 6],
  },
  materials: { names: ['Grade', 'Threads', 'up to', 'yield', 'tensile', 'proof', 'Standard'], figures: [2, 3, 4, 5] },
  gaskets: {
    names: ['Card', 'Name', 'wanted', 'at most', 'to seat', 'in service', 'Where it comes from'],
    figures: [2, 3, 4, 5],
  },
  flanges: {
    names: ['Size', 'bolts', 'thread', 'holes', 'bolt circle', 'raised face', 'Where it comes from'],
    figures: [1, 3, 4, 5],
  },
  tables: { names: ['Table', 'Name', 'looked up by', 'lines', 'Document'], figures: [3] },
  threads: {
    names: [
      'Thread',
      'Series',
      'd',
      'pitch',
      'stress area',
      'd2',
      'd3',
      'across flats',
      'bearing face',
      'hole',
      'Where it comes from',
    ],
    figures: [2, 3, 4, 5, 6, 7, 8, 9],
  },
};

/** What a person reads in metric or inch units; figures are kept in mm and MPa. */
export interface Units {
  inch: boolean;
}
const mm = (v: number, u: Units, d = 3) =>
  v ? `${u.inch ? num(inUnit(v, 'mm', 'in'), 4) : num(v, d)} ${u.inch ? 'in' : 'mm'}` : null;
const mpa = (v: number | undefined, u: Units) =>
  v ? `${u.inch ? num(inUnit(v, 'MPa', 'ksi'), 1) : num(v, 0)} ${u.inch ? 'ksi' : 'MPa'}` : null;
const mm2 = (v: number, u: Units) =>
  `${u.inch ? num(inUnit(v, 'mm2', 'in2'), 4) : num(v, 1)} ${u.inch ? 'in²' : 'mm²'}`;

export function rows(shelf: ShelfCode, l: Library, u: Units): Row[] {
  switch (shelf) {
    case 'lubricants':
      return l.lubricants.map((x) => ({
        code: x.code,
        value: { reason: '', lubricant: x },
        version: x.version ?? 0,
        cells: [
          words(x.code),
          x.name,
          x.k.low.toFixed(3),
          x.k.typ.toFixed(3),
          x.k.high.toFixed(3),
          [x.muThread.low, x.muThread.typ, x.muThread.high].map((v) => v.toFixed(2)).join(' '),
          [x.muHead.low, x.muHead.typ, x.muHead.high].map((v) => v.toFixed(2)).join(' '),
          (x.suits ?? []).map(words).join(', ') || 'general',
          sources[x.source] ?? x.source,
        ],
        words: `${x.code} ${x.name} ${x.note ?? ''} ${(x.suits ?? []).join(' ')}`,
        ...(x.notForTorqueControl ? { flag: 'not for torque control' } : {}),
        ...(x.note ? { note: x.note } : {}),
      }));
    case 'materials':
      return l.materials.map((m) => ({
        code: m.grade,
        value: { reason: '', material: m },
        version: m.version ?? 0,
        cells: [
          m.grade,
          m.system === 'iso' ? 'metric' : 'inch',
          mm(m.maxMm, u, 1),
          mpa(m.yieldMPa, u),
          mpa(m.tensileMPa, u),
          mpa(m.proofMPa, u) ?? 'not stated',
          m.source,
        ],
        words: `${m.grade} ${m.source} ${m.system}`,
      }));
    case 'gaskets':
      return l.gaskets.map((g) => ({
        code: g.code,
        value: { reason: '', gasket: g },
        version: g.version ?? 0,
        cells: [
          words(g.code),
          g.name,
          mpa(g.targetMPa, u),
          mpa(g.maxMPa, u),
          mpa(g.seatingMPa, u),
          mpa(g.operatingMPa, u),
          g.source,
        ],
        words: `${g.code} ${g.name} ${g.note ?? ''} ${g.source}`,
        ...(g.note ? { note: g.note } : {}),
      }));
    case 'flanges':
      return l.flanges.map((f) => ({
        code: f.text,
        value: { reason: '', flange: f },
        version: f.version ?? 0,
        cells: [
          f.text,
          f.bolts,
          f.thread,
          mm(f.holeMm, u, 1),
          mm(f.boltCircleMm, u, 1),
          mm(f.raisedFaceMm, u, 1),
          f.version ? f.standard : `typical by ${f.standard}`,
        ],
        words: `${f.text} ${f.thread} ${f.standard}`,
      }));
    case 'tables':
      return l.tables.map((t) => ({
        code: t.code,
        value: { reason: '', table: t },
        version: t.version ?? 0,
        cells: [t.code, t.name, t.keyNames.join(', '), t.rows.length, `${t.document} rev ${t.revision}`],
        words: `${t.code} ${t.name} ${t.document} ${t.rows.map((r) => r.keys.join(' ')).join(' ')}`,
      }));
    case 'threads': {
      const own = new Map(l.nuts.map((n) => [n.thread.replaceAll(' ', '').toLowerCase(), n]));
      const listed = l.threads.map((t) => {
        const n = own.get(t.text.replaceAll(' ', '').toLowerCase());
        if (n) own.delete(t.text.replaceAll(' ', '').toLowerCase());
        return {
          code: n?.thread ?? t.text,
          value: {
            reason: '',
            nut: n ?? { thread: t.text, acrossFlatsMm: t.acrossFlatsMm, bearingOuterMm: 0, holeMm: 0, source: '' },
          },
          version: n?.version ?? 0,
          cells: [
            t.text,
            t.series,
            mm(t.diameterMm, u),
            mm(t.pitchMm, u),
            mm2(t.stressAreaMm2, u),
            mm(t.d2Mm, u),
            mm(t.d3Mm, u),
            mm(n?.acrossFlatsMm || t.acrossFlatsMm, u, 1) ?? 'not listed',
            n?.bearingOuterMm ? mm(n.bearingOuterMm, u, 2) : 'as standard',
            n?.holeMm ? mm(n.holeMm, u, 2) : 'as standard',
            n?.source ?? (t.series.startsWith('U') || t.series === '8UN' ? 'ASME B1.1, B18.2' : 'ISO 261, 724, 272'),
          ],
          words: `${t.text} ${t.series} ${n?.source ?? ''}`,
        };
      });
      const others = [...own.values()].map((n) => ({
        code: n.thread,
        value: { reason: '', nut: n },
        version: n.version ?? 0,
        cells: [
          n.thread,
          'own',
          null,
          null,
          null,
          null,
          null,
          mm(n.acrossFlatsMm, u, 1),
          mm(n.bearingOuterMm, u, 2),
          mm(n.holeMm, u, 2),
          n.source,
        ],
        words: `${n.thread} ${n.source}`,
      }));
      return [...others, ...listed].sort((a, b) => (b.version > 0 ? 1 : 0) - (a.version > 0 ? 1 : 0));
    }
  }
}
