import { Select, Textarea } from '@mantine/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, must } from '../../api/client';
import { useSession } from '../../api/session';
import { digits, num } from '../../kit/numbers';
import { ask, type LabBench, type LabFitted, type LabMeasured, type LabProcedure, type LabSetup } from './ask';
import { Laid } from './Laid';

const words = { force: 'load, kN', stretch: 'stretch, mm', angle: 'turn in the first round, °' };

/** What was measured on the bolts, laid over what is expected of the way it was done; and the gasket that explains it best. */
export function Measured({
  setup,
  bench,
  way,
  run,
  onRun,
}: {
  setup: LabSetup;
  bench: LabBench | undefined;
  way: LabProcedure; // of the left column, for what is typed
  run: string | undefined; // record whose measurement is laid over
  onRun: (record: string | undefined) => void;
}) {
  const [of, setOf] = useState<LabMeasured['of']>('force');
  const [typed, setTyped] = useState('');
  const records = bench?.measured ?? [];
  const chosen = records.find((m) => m.from === run);
  const read = useQuery({
    queryKey: ['lab', 'read', setup.bolts, of, typed],
    queryFn: () => ask('typed', { setup, text: typed, of, procedure: way }),
    enabled: !chosen && typed.trim() !== '',
    retry: false,
  });
  const measured: LabMeasured | undefined = chosen ?? (typed.trim() && read.data ? { ...read.data, way } : undefined);
  const overlay = useQuery({
    queryKey: ['lab', 'overlay', setup, measured],
    queryFn: () => ask('overlay', { setup, runs: measured ? [measured] : [] }),
    enabled: !!measured,
    retry: false,
  });
  const wrong = (!chosen && typed.trim() && read.error) || overlay.error;
  return (
    <section className="lab-measured" aria-label="Measured against expected">
      <h2>Measured against expected</h2>
      <div className="row-fields">
        {records.length > 0 && (
          <Select
            label="What a record measured"
            clearable
            placeholder="a record of this joint"
            value={chosen?.from ?? null}
            data={records.map((m) => ({ value: m.from, label: `${m.from}, ${words[m.of]}` }))}
            onChange={(v) => onRun(v ?? undefined)}
          />
        )}
        {!chosen && (
          <>
            <Select
              label={records.length > 0 ? 'Or measured otherwise' : 'What was measured'}
              value={of}
              allowDeselect={false}
              data={Object.entries(words).map(([value, label]) => ({ value, label }))}
              onChange={(v) => v && setOf(v as LabMeasured['of'])}
            />
            <Textarea
              label="Bolt by bolt, after what stands on the left"
              description="one figure a bolt in their order, or as 3: 141"
              placeholder="148 141 139"
              autosize
              minRows={1}
              value={typed}
              onChange={(e) => setTyped(e.currentTarget.value)}
            />
          </>
        )}
      </div>
      {wrong && (
        <p className="wrong" role="alert">
          {wrong.message}
        </p>
      )}
      {overlay.data && measured && (
        <>
          <p role="status">
            <b>{overlay.data.sentence}</b>{' '}
            {measured.of !== 'angle' && (
              <>All together lie at {digits(overlay.data.levelPct, 3)} % of what is expected.</>
            )}
          </p>
          <Laid o={overlay.data} />
          <Fit key={measured.from} setup={setup} measured={measured} tag={setup.tag} />
        </>
      )}
      {!measured && records.length === 0 && !typed && (
        <p className="dim">
          No record of this joint tells how far its nuts turned in the check round, or how much its bolts stretched.
          What was measured otherwise can be typed here.
        </p>
      )}
      {bench?.kept && (
        <p>
          This joint keeps a gasket {num(bench.kept.fitted.curveBy, 2)} times as stiff as its typical curve: a bolt
          loses {digits(bench.kept.fitted.lossPct, 2)} % of what its neighbour gains. From{' '}
          {bench.kept.fitted.from.join(', ')}, kept by {bench.kept.by}: {bench.kept.reason}
        </p>
      )}
      {bench?.kept && <Keep tag={setup.tag} records={[]} press="Go back to the typical curve" />}
    </section>
  );
}

/** Looks for the gasket by which the model agrees with what was measured; an engineer keeps it with the joint. */
function Fit({ setup, measured, tag }: { setup: LabSetup; measured: LabMeasured; tag: string }) {
  const [got, setGot] = useState<LabFitted>();
  const [busy, setBusy] = useState(false);
  const [wrong, setWrong] = useState('');
  return (
    <>
      <button
        type="button"
        className="btn"
        disabled={busy}
        onClick={() => {
          setBusy(true);
          setWrong('');
          ask('fit', { setup, runs: [measured] })
            .then(setGot)
            .catch((e: Error) => setWrong(e.message))
            .finally(() => setBusy(false));
        }}
      >
        {busy ? 'Trying gaskets, softer and stiffer' : 'Fit the neighbour’s loss'}
      </button>
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
      {got && <p role="status">{got.sentence}</p>}
      {got && tag && measured.from && <Keep tag={tag} records={[measured.from]} press="Keep it with the joint" />}
    </>
  );
}

function Keep({ tag, records, press }: { tag: string; records: string[]; press: string }) {
  const { may } = useSession();
  const client = useQueryClient();
  const [reason, setReason] = useState('');
  const [wrong, setWrong] = useState('');
  if (!may('keepLabFit')) return <p className="dim">{press}: an engineer can.</p>;
  return (
    <form
      className="row-fields"
      onSubmit={(e) => {
        e.preventDefault();
        must(api.PUT('/joints/{tag}/lab/fit', { params: { path: { tag } }, body: { records, reason } }))
          .then(() => {
            setReason('');
            setWrong('');
            void client.invalidateQueries({ queryKey: ['lab'] });
          })
          .catch((err: Error) => setWrong(err.message));
      }}
    >
      <Textarea
        label="Why"
        autosize
        minRows={1}
        value={reason}
        onChange={(e) => setReason(e.currentTarget.value)}
        error={wrong}
      />
      <button type="submit" className="btn">
        {press}
      </button>
    </form>
  );
}
