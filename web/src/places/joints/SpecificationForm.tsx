import { Autocomplete, Select, Textarea, TextInput } from '@mantine/core';
import { type Family, type Fasteners, type Specification, useLibrary } from '../../api/client';
import { useSession } from '../../api/session';
import { resolve, useFamilyCore } from '../../core/family';
import { demandOf, firstDemand } from '../../kit/demand';
import { Figure } from '../../kit/Figure';
import { unitText } from '../../kit/numbers';
import { useSheet } from '../../kit/sheet';
import { DocumentOrders } from './DocumentOrders';
import { FastenerFields } from './FastenerFields';
import { blank, withVariant } from './variants';

interface FormProps {
  start: Specification;
  family: Family;
  verb: string;
  askReason?: boolean;
  onDone: (s: Specification, reason: string) => Promise<void>;
}

export const emptySpecification: Specification = {
  version: 0,
  document: '',
  revision: '',
  groups: [
    {
      bolts: 0,
      thread: '',
      material: '',
      lubricant: '',
      target: { form: 'torque', nominal: 0, minusPct: 5, plusPct: 5, unit: 'N_m' },
    },
  ],
};

type Kin = Family['fasteners'][number];

/** The specification as the document states it, group by group. What is refused is said at its field, and nothing is lost. */
export function SpecificationForm({ start, family, verb, askReason, onDone }: FormProps) {
  const first = family.fasteners[0];
  const empty = start.version === 0 && !firstDemand(start).thread && first && family.code !== 'gasketed_flange';
  const sheet = useSheet(
    { specification: empty ? { ...start, groups: [blank(first, true)] } : start, reason: '' },
    ({ specification, reason }) => done(specification, reason),
  );
  const { specification: s } = sheet.values;
  const lib = useLibrary();
  const { may } = useSession();
  const ready = useFamilyCore(); // without it nobody can tell what belongs to a variant
  const setS = (to: (old: Specification) => Specification) =>
    sheet.put((old) => ({ specification: to(old.specification) }));
  const set = (change: Partial<Specification>) => setS((old) => ({ ...old, ...change }));
  const err = (...names: string[]) => names.map(sheet.refusalOf).find(Boolean);
  const here = resolve(family, s.variant ?? {}, s.figures ?? {});
  const groups = here.family.fasteners;
  const answer = (variant: Record<string, string>) =>
    setS((old) =>
      withVariant(old, variant, groups[0], resolve(family, variant, old.figures ?? {}).family.fasteners[0]),
    );
  const engineer = may('target_without_document');
  const gasket = here.family.parts.some((p) => p.code === 'gasket');
  const flange = family.code === 'gasketed_flange';
  const wanted = (g: Kin, i: number): Fasteners | undefined => demandOf(s, g.code, i === 0);
  const change = (g: Kin, i: number, c: Partial<Fasteners>) =>
    setS((old) => {
      const mine = demandOf(old, g.code, i === 0);
      const now = { ...(mine ?? blank(g, i === 0)), ...c };
      return { ...old, groups: mine ? old.groups.map((f) => (f === mine ? now : f)) : [...old.groups, now] };
    });
  function done(s: Specification, reason: string) {
    // Those that were not touched begin with what the procedure says; what another variant was given stays beside.
    const asked = groups.flatMap((g, i) => {
      const v = demandOf(s, g.code, i === 0);
      if (v) return [v];
      return g.same ? [] : [blank(g, i === 0)];
    });
    const named = [...asked, ...s.groups.filter((f) => !asked.includes(f))];
    const figures = Object.fromEntries(
      Object.entries(s.figures ?? {}).filter(([k]) => family.figures?.some((f) => f.code === k)),
    );
    const orders = Object.fromEntries(
      // an empty line at the end is no part
      Object.entries(s.orders ?? {}).map(([k, v]) => [k, v.map((x) => x.trim()).filter((x) => x)]),
    );
    const variant = Object.fromEntries(
      (family.questions ?? []).filter((q) => !q.figure).map((q) => [q.code, here.answers[q.code] ?? '']),
    );
    return onDone(
      { ...s, groups: named, figures, orders, variant: Object.keys(variant).length ? variant : undefined },
      reason,
    );
  }
  const n = (v: number | string) => (typeof v === 'number' ? v : 0); // '' while it is empty
  return (
    <form onSubmit={sheet.submit}>
      {(family.questions ?? []).some((q) => !q.figure) && (
        <>
          <div className="rule">Which variant</div>
          {(family.questions ?? [])
            .filter((q) => !q.figure)
            .map((q) => (
              <div key={q.code} className="variant">
                <b>{q.ask}</b>
                <div className="row-btns">
                  {q.options.map((o) => (
                    <button
                      key={o.code}
                      type="button"
                      aria-pressed={here.answers[q.code] === o.code}
                      className={`btn${here.answers[q.code] === o.code ? ' on' : ''}`}
                      disabled={!ready}
                      onClick={() => answer({ ...s.variant, [q.code]: o.code })}
                    >
                      {o.name}
                    </button>
                  ))}
                </div>
                {q.why && <p className="dim">{q.why}</p>}
                {err(`variant.${q.code}`) && <p className="wrong">{err(`variant.${q.code}`)}</p>}
              </div>
            ))}
        </>
      )}
      <div className="rule">Where it comes from</div>
      <div className="fields" style={{ margin: '6px 0 12px' }}>
        <TextInput
          label="Document"
          value={s.document}
          onChange={(e) => set({ document: e.currentTarget.value })}
          error={err('document')}
          description="none leaves the target without a source"
        />
        <TextInput label="Revision" value={s.revision} onChange={(e) => set({ revision: e.currentTarget.value })} />
        <TextInput label="Page or table" value={s.page ?? ''} onChange={(e) => set({ page: e.currentTarget.value })} />
        {!s.document && engineer && (
          <TextInput
            label="Why work may go on without a document"
            value={s.noSourceWhy ?? ''}
            onChange={(e) => set({ noSourceWhy: e.currentTarget.value })}
            description="your name stands beside it"
          />
        )}
        <TextInput
          label={flange ? 'Flange size' : 'Type and size'}
          placeholder={flange ? 'DN 400 PN 16' : 'as on the nameplate'}
          value={s.flangeSize ?? ''}
          onChange={(e) => set({ flangeSize: e.currentTarget.value })}
        />
        {gasket && (
          <Autocomplete
            label="Gasket"
            placeholder="as on the drawing, or a card of the Library"
            value={s.gasket ?? ''}
            onChange={(v) => set({ gasket: v })}
            data={[...new Set((lib.data?.gaskets ?? []).map((g) => g.name))]}
          />
        )}
        <Select
          label="Service"
          value={s.serviceClass || 'general'}
          onChange={(v) => set({ serviceClass: v === 'general' ? '' : (v ?? '') })}
          data={(lib.data?.services ?? ['general']).map((x) => ({ value: x, label: x.replaceAll('_', ' ') }))}
          description="the lubricant must be documented for it"
          error={err('serviceClass')}
        />
        {flange && (
          <Figure
            unit="mm"
            label="Allowed gap spread, mm"
            description="only if the document says so"
            value={s.proofGapMm ?? ''}
            onChange={(v) => set({ proofGapMm: n(v) })}
            error={err('proofGapMm')}
          />
        )}
      </div>
      {(here.family.figures ?? []).length > 0 && (
        <>
          <div className="rule">Figures of the document</div>
          <div className="fields" style={{ margin: '6px 0 12px' }}>
            {here.family.figures
              ?.filter((f) => !f.derive)
              .map((f) => (
                <Figure
                  key={f.code}
                  label={`${f.name}${f.unit ? `, ${unitText(f.unit)}` : ''}`}
                  description={f.why}
                  value={s.figures?.[f.code] ?? ''}
                  onChange={(v) =>
                    setS((old) => {
                      const figures = { ...old.figures };
                      if (v === '') delete figures[f.code];
                      else figures[f.code] = n(v);
                      return { ...old, figures };
                    })
                  }
                  error={err(`figures.${f.code}`)}
                  required={f.must}
                />
              ))}
          </div>
        </>
      )}
      <DocumentOrders
        checks={here.family.checks}
        orders={s.orders ?? {}}
        err={err}
        onChange={(orders) => set({ orders })}
      />
      {groups.map((g, i) => {
        const v = wanted(g, i);
        const like = groups.find((x) => x.code === g.same);
        return (
          <div key={g.code}>
            <div className="rule">
              {groups.length === 1 && flange ? 'The bolts and their target' : g.name}
              <span className="r">{g.face ? `face ${g.face}` : ''}</span>
            </div>
            {!v && like ? (
              <p className="until">
                As {like.name.toLowerCase()}: thread, condition and target are the same.{' '}
                <button type="button" className="btn plain sm" onClick={() => change(g, i, {})}>
                  Enter its own
                </button>
              </p>
            ) : (
              <FastenerFields
                kin={g}
                value={v ?? blank(g, i === 0)}
                first={i === 0}
                engineer={may('putSpecification')}
                err={(...names) => err(...names.map((x) => (i === 0 ? x : `${g.code}.${x}`)))}
                onChange={(c) => change(g, i, c)}
              />
            )}
          </div>
        );
      })}
      {askReason && (
        <Textarea
          label="What changed, and why"
          {...sheet.field('reason')}
          autosize
          minRows={2}
          maxLength={500}
          mb={10}
        />
      )}
      {sheet.said && ( // at its field too; the form is long, and a field may belong to what is not shown
        <p className="wrong" role="alert">
          {sheet.said}
        </p>
      )}
      <button type="submit" className="btn now wide" disabled={sheet.busy}>
        {verb}
      </button>
    </form>
  );
}
