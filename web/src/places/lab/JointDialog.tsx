import { Modal, Select, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { api, must, useLibrary } from '../../api/client';
import { Figure } from '../../kit/Figure';
import { SheetEnd } from '../../kit/SheetEnd';
import { useSheet } from '../../kit/sheet';
import { ask, type FlangeSize, type LabSetup, nothing } from './ask';

const figures = [
  ['targetKn', 'Force of each bolt, kN'],
  ['yieldKn', 'Bolt yields at, kN'],
  ['needMpa', 'Gasket needs, MPa'],
  ['gasketMm', 'Gasket thickness, mm'],
  ['boltCircleMm', 'Bolt circle, mm'],
  ['boreMm', 'Bore, mm'],
  ['outsideMm', 'Outside diameter, mm'],
  ['thicknessMm', 'Thickness of the ring, mm'],
  ['hubMm', 'Wall of the pipe, mm'],
  ['faceMm', 'Raised face, outside, mm'],
  ['frictionPct', 'Friction spreads, %'],
  ['toolPct', 'Tool spreads, %'],
  ['curvePct', 'Gasket curve spreads, %'],
] as const;
const ofGasket: string[] = ['needMpa', 'gasketMm', 'hubMm', 'faceMm', 'curvePct'];
const tapers = [
  ['deg', 'Slope of the taper, °'],
  ['friction', 'Friction on the taper'],
  ['mm', 'Mean diameter of the taper, mm'],
  ['contactMm', 'Length of the taper, each ring, mm'],
  ['innerMm', 'Bore of a hollow shaft, mm'],
] as const;
const noTaper = { deg: 0, friction: 0, mm: 0, contactMm: 0, innerMm: 0 };

/** The joint: one of the register, or made up on the spot. What is left empty is estimated, and said so. */
export function JointDialog({
  setup,
  onBack,
  onTag,
  onDone,
}: {
  setup: LabSetup;
  onBack: () => void;
  onTag: (tag: string) => void;
  onDone: (s: LabSetup) => void;
}) {
  const sheet = useSheet({ ...setup }, use);
  const x = sheet.values;
  const [find, setFind] = useState('');
  const joints = useQuery({
    queryKey: ['joints', 'lab', find],
    queryFn: () => must(api.GET('/joints', { params: { query: { q: find, limit: 30 } } })),
  });
  const laws = useQuery({ queryKey: ['lab', 'laws'], queryFn: () => ask('laws', { setup: nothing }) });
  const sizes = useSizes();
  const taper = x.gasket === 'taper';
  // The size is worked out beside the page: a form that is sent meanwhile waits for it, and what is typed stays.
  const wanted = useRef<FlangeSize>(undefined);
  const sizing = useRef<Promise<void>>(undefined);
  const bySize = (size: FlangeSize) => {
    wanted.current = size;
    const asked = sheet.now();
    sizing.current = ask('sized', { setup: asked, size }).then((got) => {
      if (wanted.current === size) sheet.put(changed(asked, got));
    }, sheet.refused);
  };
  const byHand = (part: Partial<LabSetup>) => {
    wanted.current = undefined;
    sheet.put({ flange: '', ...part });
  };
  async function use() {
    await sizing.current;
    const joint = sheet.now();
    await ask('of', { setup: joint });
    onDone({ ...joint, tag: '', name: '' });
  }
  const error = sheet.refusalOf;
  return (
    <Modal opened onClose={onBack} title="The joint" size="lg">
      <Select
        label="Of the register"
        placeholder="tag or name"
        searchable
        value={null}
        searchValue={find}
        onSearchChange={setFind}
        filter={({ options }) => options}
        data={(joints.data?.rows ?? []).map((j) => ({ value: j.tag, label: `${j.tag} ${j.name}, ${j.make}` }))}
        onChange={(tag) => tag && onTag(tag)}
        nothingFoundMessage="No joint like that."
      />
      <form className="lab-form" onSubmit={sheet.submit}>
        <p className="dim">Or made up on the spot. What is left empty is estimated.</p>
        <Select
          label="Flange by its size"
          description="bolts, their circle and the raised face by a table of the site, or the usual one"
          placeholder="DN 400 PN 16"
          searchable
          clearable
          limit={40}
          value={x.flange || null}
          data={sizes.map((f) => ({ value: f.text, label: `${f.text}, ${f.bolts} × ${f.thread}, ${f.standard}` }))}
          onChange={(text) => {
            const size = sizes.find((f) => f.text === text);
            if (size) bySize(size);
            else byHand({});
          }}
          nothingFoundMessage="No size like that. Give its dimensions below, or keep it in the Library."
        />
        <Figure
          label="Bolts"
          value={x.bolts || ''}
          onChange={(v) => byHand({ bolts: v || 0 })}
          error={error('bolts')}
        />
        <TextInput
          label="Thread"
          {...sheet.field('thread')}
          onChange={(e) => byHand({ thread: e.currentTarget.value })}
        />
        <Select
          label="Gasket"
          value={x.gasket}
          allowDeselect={false}
          data={(laws.data ?? []).map((l) => ({ value: l.code, label: l.name }))}
          onChange={(gasket) => {
            if (gasket === 'taper') byHand({ gasket, gasketMm: 0 });
            else if (gasket) sheet.put({ gasket, gasketMm: 0 });
          }}
          error={error('gasket')}
        />
        {taper &&
          tapers.map(([key, label]) => (
            <Figure
              key={key}
              label={label}
              value={x.taper?.[key] || ''}
              onChange={(v) => sheet.put((old) => ({ taper: { ...noTaper, ...old.taper, [key]: v || 0 } }))}
              error={error(`taper.${key}`)}
            />
          ))}
        {taper && (
          <p className="dim">
            The model shows how two rings come together, screw by screw. What torque the lock then carries it does not
            know.
          </p>
        )}
        {figures
          .filter(([key]) => !taper || !ofGasket.includes(key))
          .map(([key, label]) => (
            <Figure
              key={key}
              label={label}
              value={x[key] || ''}
              onChange={(v) => sheet.put({ [key]: v || 0 })}
              error={error(key)}
            />
          ))}
        <SheetEnd sheet={sheet} verb="Use this joint" onBack={onBack} />
      </form>
    </Modal>
  );
}

/** What of a joint is otherwise than it was asked about, what it no longer has included. */
function changed(asked: LabSetup, got: LabSetup): Partial<LabSetup> {
  const of = (s: LabSetup, key: string) => s[key as keyof LabSetup];
  const keys = Object.keys({ ...asked, ...got }).filter((k) => of(asked, k) !== of(got, k));
  return Object.fromEntries(keys.map((k) => [k, of(got, k)]));
}

/** Sizes by a table: the site's own, and the usual ones, which are there without network too. */
function useSizes(): FlangeSize[] {
  const library = useLibrary();
  const usual = useQuery({ queryKey: ['lab', 'sizes'], queryFn: () => ask('sizes', { setup: nothing }) });
  return library.data?.flanges ?? usual.data ?? [];
}
