import { Autocomplete, Select, TextInput } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from '@tanstack/react-router';
import { api, jointChanged, must, type Specification, useLibrary, useProcedure, useSite } from '../../api/client';
import { loadCore } from '../../core/core';
import { firstDemand } from '../../kit/demand';
import { NotAFigure } from '../../kit/Figure';
import { typedAs, useRules } from '../../kit/figures';
import { num } from '../../kit/numbers';
import { useSheet } from '../../kit/sheet';
import { Rosette } from '../../rosette/Rosette';

const blank = {
  tag: '',
  size: '',
  bolts: '',
  thread: '',
  material: '8.8',
  target: '',
  lubricant: '',
  document: '',
  revision: '',
  noSource: '',
  area: '',
  led: 'full',
};
type Entry = typeof blank;

/** What was typed as a document's demand; a size fills what was not typed. */
function specificationOf(
  v: Entry,
  size: { text: string; bolts: number; thread: string; boltCircleMm: number } | undefined,
): Specification {
  const bolts = typedAs(v.bolts, '');
  const target = typedAs(v.target, 'N_m');
  return {
    version: 0,
    variant: { led: v.led },
    document: v.document,
    revision: v.revision,
    ...(v.noSource.trim() && !v.document.trim() ? { noSourceWhy: v.noSource.trim() } : {}),
    ...(v.size.trim() ? { flangeSize: size?.text ?? v.size.trim() } : {}),
    groups: [
      {
        bolts: v.bolts.trim() && !bolts.wrong ? bolts.inField : (size?.bolts ?? 8),
        ...(size ? { boltCircleMm: size.boltCircleMm } : {}),
        thread: v.thread.trim() || (size?.thread ?? ''),
        material: v.material,
        lubricant: v.lubricant,
        target:
          v.target.trim() && !target.wrong
            ? { form: 'torque', nominal: target.inField, minusPct: 5, plusPct: 5, unit: 'N_m' }
            : { form: 'not_given' },
      },
    ],
  };
}

/** One flange by hand: a sentence with boxes, and beside it the flange and its plan as they come about. */
export function OneFlange() {
  const navigate = useNavigate();
  const qc = useQueryClient();
  const library = useLibrary();
  const site = useSite();
  const sheet = useSheet(blank, make);
  const v = sheet.values;
  const set = sheet.put;
  useRules(); // what was typed before they came is read then
  const bolts = typedAs(v.bolts, '');
  const target = typedAs(v.target, 'N_m');
  const [sized] = useDebouncedValue(v.size, 150);
  const ask = { family: 'gasketed_flange', flangeSize: sized, specification: specificationOf(v, undefined) };
  const sketch = useQuery({
    queryKey: ['joints', 'sketch', ask],
    queryFn: async () => {
      await loadCore();
      const first = await must(api.POST('/joints-sketch', { body: ask }));
      // a size fills what was not typed: the plan is asked for again with it
      return first.size
        ? must(api.POST('/joints-sketch', { body: { ...ask, specification: specificationOf(v, first.size) } }))
        : first;
    },
    placeholderData: (last) => last,
    retry: false,
  });
  const led = useProcedure('gasketed_flange').data?.family.questions?.find((q) => q.code === 'led');
  const size = sketch.data?.size;
  const plan = sketch.data?.plan;
  const spec = specificationOf(v, size);
  const g = plan?.groups[0];
  const n = Math.min(96, Math.max(1, firstDemand(spec).bolts || 8));
  const areas = site.data?.areas.map((a) => a.name) ?? [];
  const area = v.area || areas[0] || '';
  async function make(typed: Entry) {
    const d = await must(
      api.POST('/joints', {
        body: {
          tag: typed.tag,
          name: typed.tag,
          area,
          equipment: '',
          service: '',
          family: 'gasketed_flange',
          package: '',
          nameplate: '',
          specification: specificationOf(typed, size),
        },
      }),
    );
    jointChanged(qc, d.joint.tag);
    void navigate({ to: '/joints/$tag', params: { tag: d.joint.tag } });
  }
  return (
    <div className="one-flange">
      <form onSubmit={sheet.submit}>
        <div className="sentence">
          <TextInput
            label="Its tag"
            {...sheet.field('tag')}
            onChange={(e) => set({ tag: e.currentTarget.value.trim() })}
            data-autofocus
          />
          <Autocomplete label="Area" {...sheet.field('area')} placeholder={areas[0] ?? 'where it is'} data={areas} />
          <TextInput label="Size, as DN 150 PN 16 or 6 in class 300" {...sheet.field('size')} />
          <div>
            <TextInput
              label="Bolts"
              placeholder={size ? String(size.bolts) : '8'}
              inputMode="numeric"
              {...sheet.field('bolts')}
            />
            <NotAFigure
              wrong={v.bolts.trim() ? bolts.wrong : ''}
              choices={bolts.choices}
              onChoose={(bolts) => set({ bolts })}
            />
          </div>
          <TextInput label="Thread" placeholder={size?.thread ?? 'M20'} {...sheet.field('thread')} />
          <Autocomplete
            label="Bolt material"
            {...sheet.field('material')}
            data={[...new Set((library.data?.materials ?? []).map((m) => m.grade))].slice(0, 40)}
          />
          <div>
            <TextInput label="Torque, N·m" inputMode="decimal" {...sheet.field('target')} />
            <NotAFigure
              wrong={v.target.trim() ? target.wrong : ''}
              choices={target.choices}
              onChoose={(target) => set({ target })}
            />
          </div>
          <Select
            label="Lubricant"
            {...sheet.field('lubricant')}
            value={v.lubricant || null}
            onChange={(l) => set({ lubricant: l ?? '' })}
            data={(library.data?.lubricants ?? []).map((l) => ({ value: l.code, label: l.name }))}
            searchable
          />
          <TextInput label="Document it comes from" {...sheet.field('document')} />
          {v.document.trim() ? (
            <TextInput label="Revision" {...sheet.field('revision')} />
          ) : (
            <TextInput label="No document: why; an engineer gives leave" {...sheet.field('noSource')} />
          )}
        </div>
        <fieldset className="led">
          <legend>How it is led</legend>
          {led?.options.map((o) => (
            <button
              key={o.code}
              type="button"
              className={`btn${v.led === o.code ? ' on' : ''}`}
              aria-pressed={v.led === o.code}
              onClick={() => set({ led: o.code })}
            >
              {o.name}
            </button>
          ))}
          {v.led === 'one_off' && <p className="dim">{led?.why}</p>}
        </fieldset>
        {size && (
          <p className="typical">
            {size.text}: {size.bolts} × {size.thread}
            {size.holeMm ? ` in holes of ${num(size.holeMm, 1)} mm` : ''} on {num(size.boltCircleMm, 1)} mm
            {size.raisedFaceMm ? `, raised face ${num(size.raisedFaceMm, 1)} mm` : ''}.{' '}
            {size.version
              ? `The site’s own, ${size.standard}.`
              : `Typical by ${size.standard}; look at the flange and confirm.`}
          </p>
        )}
        {sheet.rest() && (
          <p className="wrong" role="alert">
            {sheet.rest()}
          </p>
        )}
        <button type="submit" className="btn now wide">
          {v.tag ? `Make ${v.tag} and read its plan` : 'Make it and read its plan'}
        </button>
      </form>
      <aside aria-label="The flange and its plan">
        <Rosette
          size={300}
          count={n}
          startDeg={180 / n}
          numbers={Array.from({ length: n }, (_, i) => i + 1)}
          fasteners={[]}
          aim={1}
          label={`${n} bolts on a circle`}
        />
        {plan ? (
          <ul className="verdict-list">
            {g && g.finalNm > 0 && (
              <li>
                <b>{num(g.finalNm, 0)} N·m</b> on {g.wrench?.tag ?? 'no wrench of the crib'}, {plan.passes.length}{' '}
                passes, about {num(plan.minutes, 0)} min
              </li>
            )}
            {g && g.yieldPct > 0 && <li>{num(g.yieldPct, 0)} % of yield while tightening</li>}
            {plan.toBeSupplied.map((t) => (
              <li key={t} className="hld">
                {t}
              </li>
            ))}
            {plan.findings.slice(0, 4).map((f) => (
              <li key={f.what} className={f.severity === 'stop' ? 'neg' : 'dim'}>
                {f.what}
              </li>
            ))}
          </ul>
        ) : (
          <p className="dim">{(firstDemand(spec).thread && sketch.data?.what) || 'It grows as you type.'}</p>
        )}
      </aside>
    </div>
  );
}
