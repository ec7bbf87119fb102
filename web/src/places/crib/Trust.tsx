import { Modal, Select, Textarea, TextInput } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { api, type DeviceResult, must, type Tool, type ToolDetail } from '../../api/client';
import { useLive } from '../../api/live';
import { Figure } from '../../kit/Figure';
import { plainFigure } from '../../kit/figures';
import { num, unitText, when } from '../../kit/numbers';
import { ReasonDialog } from '../../kit/ReasonDialog';
import { useSheet } from '../../kit/sheet';
import { LookedAt } from './Doubts';

/** Whether a tool can be believed: who has it, what it showed on the torque meter, and which joints are in doubt for it. */
export function Trust({ detail, keeper, onChanged }: { detail: ToolDetail; keeper: boolean; onChanged: () => void }) {
  const w = detail.tool.tool;
  const [checking, check] = useDisclosure(false);
  const [taking, take] = useDisclosure(false);
  const [bringing, bring] = useDisclosure(false);
  const [closing, setClosing] = useState<string>();
  const qc = useQueryClient();
  const changed = () => {
    onChanged();
    void qc.invalidateQueries({ queryKey: ['joint'] });
  };
  const open = detail.doubts.filter((d) => !d.closedAt);
  const closed = detail.doubts.filter((d) => d.closedAt);
  const present = detail.loans.find((l) => !l.backAt);
  const last = detail.loans.find((l) => l.backAt);
  return (
    <>
      <div className="rule" style={{ marginTop: 12 }}>
        Who has it
      </div>
      <div className="row-btns" style={{ marginTop: 4 }}>
        <span style={{ flex: 1 }}>
          {present ? (
            <>
              <b>{present.person}</b>, {present.place}, since {when(present.outAt)}
            </>
          ) : (
            <>
              In its place: {w.place}.{last ? ` Last back ${when(last.backAt)} from ${last.person}: ${last.care}.` : ''}
            </>
          )}
        </span>
        {present ? (
          <button type="button" className="btn sm" onClick={bring.open}>
            Bring it back
          </button>
        ) : (
          <button
            type="button"
            className="btn sm"
            onClick={take.open}
            disabled={detail.tool.condition === 'quarantined' || detail.tool.condition === 'overdue'}
          >
            Take it out
          </button>
        )}
      </div>
      {open.length > 0 && (
        <>
          <div className="rule" style={{ marginTop: 12 }}>
            Joints in doubt<span className="r">{open.length} to look at again</span>
          </div>
          <ul className="used">
            {open.map((d) => (
              <li key={d.id}>
                <Link to="/joints/$tag" params={{ tag: d.joint }}>
                  <span className="m">{d.joint}</span> {d.name}
                </Link>
                <span className="hld">last pulled {when(d.lastUsed)}</span>
                {keeper && (
                  <button type="button" className="btn sm" onClick={() => setClosing(d.id)}>
                    Looked at
                  </button>
                )}
              </li>
            ))}
          </ul>
          <p className="dim">{open[0]?.reason}</p>
        </>
      )}
      {closed.length > 0 && (
        <details>
          <summary>{closed.length} looked at</summary>
          <ul className="used">
            {closed.map((d) => (
              <li key={d.id}>
                <span className="m">{d.joint}</span>
                <span className="dim">
                  {d.closedBy}, {when(d.closedAt)}: {d.how}
                </span>
              </li>
            ))}
          </ul>
        </details>
      )}
      {detail.tool.group === 'wrenches' && (
        <>
          <div className="rule" style={{ marginTop: 12 }}>
            On the torque meter<span className="r">last good evidence {detail.since}</span>
          </div>
          {detail.checks.length === 0 && (
            <p className="dim">Not checked since it was entered; the certificate alone stands for it.</p>
          )}
          <ul className="used">
            {detail.checks.slice(0, 5).map((c) => (
              <li key={c.at}>
                <b className={c.verdict.pass ? '' : 'neg'}>{c.verdict.pass ? 'passed' : 'failed'}</b>
                <span>
                  {c.verdict.sentence}{' '}
                  <span className="m">
                    {c.check.steps.map((s) => `${num(s.set)}: ${s.readings.map((r) => num(r)).join(' ')}`).join('; ')}
                  </span>{' '}
                  <span className="dim">
                    {c.by}, {when(c.at)}, on {c.check.meter}
                  </span>
                </span>
              </li>
            ))}
          </ul>
          <div className="row-btns" style={{ marginTop: 4 }}>
            <button type="button" className="btn sm" onClick={check.open}>
              Check on the torque meter
            </button>
          </div>
        </>
      )}
      <Modal opened={checking} onClose={check.close} title={`${w.tag} on the torque meter`} size="lg">
        <CheckForm
          w={w}
          keeper={keeper}
          doubted={w.state === 'quarantined'}
          onDone={() => {
            check.close();
            changed();
          }}
        />
      </Modal>
      <ReasonDialog
        opened={taking}
        title={`Take ${w.tag} out`}
        text="The joint, the package or the area."
        label="Where does it go"
        verb="It goes there with me"
        onClose={take.close}
        onDone={async (place) => {
          await must(api.POST('/tools/{tag}/check-out', { params: { path: { tag: w.tag } }, body: { place } }));
          changed();
        }}
      />
      <Modal opened={bringing} onClose={bring.close} title={`Bring ${w.tag} back`}>
        <CareForm
          w={w}
          onDone={() => {
            bring.close();
            changed();
          }}
        />
      </Modal>
      <LookedAt
        id={closing}
        onClose={() => setClosing(undefined)}
        onDone={() => {
          setClosing(undefined);
          changed();
        }}
      />
    </>
  );
}

interface Step {
  set: number | '';
  readings: string;
}

function CheckForm({ w, keeper, doubted, onDone }: { w: Tool; keeper: boolean; doubted: boolean; onDone: () => void }) {
  const sheet = useSheet(
    {
      purpose: doubted && keeper ? 'as_found' : 'pre_use',
      meter: localStorage.getItem('meter') ?? '',
      steps: [{ set: '', readings: '' }] as Step[],
      note: '',
    },
    async ({ steps, ...v }) => {
      localStorage.setItem('meter', v.meter);
      const body = {
        ...v,
        steps: steps
          .filter((s) => s.set !== '' || s.readings.trim())
          .map((s) => ({
            set: s.set || 0,
            readings: s.readings
              .split(/[\s;]+/)
              .filter(Boolean)
              .map(plainFigure),
          })),
      };
      if (body.steps.flatMap((s) => s.readings).some((r) => Number.isNaN(r))) {
        sheet.refuse('steps', 'A reading is not a number. Write the readings with blanks between them.');
        return;
      }
      await must(api.POST('/tools/{tag}/checks', { params: { path: { tag: w.tag } }, body }));
      onDone();
    },
  );
  const { meter, steps } = sheet.values;
  const unit = unitText(w.unit);
  // A torque meter that sends, in the unit of the wrench, writes its readings itself.
  useLive(
    undefined,
    /^[A-Z]+-\d+$/.test(meter) ? [meter] : [],
    (note) => {
      const r = note.kind === 'result' ? (note.data as DeviceResult | undefined) : undefined;
      if (r && r.reading.unit === w.unit)
        sheet.put((old) => ({
          steps: old.steps.map((s, i) =>
            i === old.steps.length - 1 ? { ...s, readings: `${s.readings} ${r.reading.value}`.trim() } : s,
          ),
        }));
    },
    () => undefined,
  );
  const change = (i: number, c: Partial<Step>) =>
    sheet.put({ steps: steps.map((s, j) => (j === i ? { ...s, ...c } : s)) });
  return (
    <form onSubmit={sheet.submit}>
      <p className="dim">
        Try it a few times first. Pull to one click and stop, in the direction it is used. A check outside ±
        {num(w.accuracyPct)} % puts it aside and its joints in doubt.
      </p>
      <div className="fields" style={{ margin: '8px 0' }}>
        <Select
          label="Why"
          {...sheet.field('purpose')}
          allowDeselect={false}
          data={[
            { value: 'pre_use', label: 'before use, three readings or more' },
            { value: 'as_found', label: 'after a doubt, as found, five or more', disabled: !keeper },
          ]}
        />
        <TextInput label="Torque meter" placeholder="its tag or serial" {...sheet.field('meter')} />
      </div>
      {steps.map((s, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: settings have no other name, and are edited in place
        <div className="fields" key={i} style={{ gridTemplateColumns: '130px 1fr', marginBottom: 6 }}>
          <Figure label={`Set, ${unit}`} value={s.set} onChange={(v) => change(i, { set: v })} />
          <TextInput
            label={`Readings at setting ${i + 1}, ${unit}`}
            placeholder="402 399 401"
            value={s.readings}
            onChange={(e) => change(i, { readings: e.currentTarget.value })}
            inputMode="decimal"
          />
        </div>
      ))}
      {sheet.refusalOf('steps') && (
        <p className="wrong" role="alert">
          {sheet.refusalOf('steps')}
        </p>
      )}
      <button
        type="button"
        className="btn plain sm"
        onClick={() => sheet.put({ steps: [...steps, { set: '', readings: '' }] })}
      >
        Another setting
      </button>
      <Textarea label="Remark" {...sheet.field('note')} autosize minRows={1} />
      {sheet.rest() && (
        <p className="wrong" role="alert">
          {sheet.rest()}
        </p>
      )}
      <div className="row-btns">
        <button type="submit" className="btn now">
          Keep the check
        </button>
      </div>
    </form>
  );
}

function CareForm({ w, onDone }: { w: Tool; onDone: () => void }) {
  const sheet = useSheet({ dropped: false, unwound: false, complete: false, note: '' }, async (care) => {
    await must(api.POST('/tools/{tag}/return', { params: { path: { tag: w.tag } }, body: care }));
    onDone();
  });
  const tick = (key: 'dropped' | 'unwound' | 'complete', label: string) => (
    <label className="care">
      <input type="checkbox" {...sheet.tick(key)} />
      {label}
    </label>
  );
  return (
    <form onSubmit={sheet.submit}>
      {tick('unwound', w.storageRule ? `Put away as it should be: ${w.storageRule}` : 'Put away as it should be')}
      {tick('complete', 'Clean, in its box, certificate with it')}
      {tick('dropped', 'It was dropped, overloaded or used for loosening')}
      {sheet.values.dropped && (
        <p className="hld">It is put aside, and what it tightened since its last good evidence is in doubt.</p>
      )}
      <Textarea label="Remark" {...sheet.field('note')} autosize minRows={1} />
      {sheet.rest() && (
        <p className="wrong" role="alert">
          {sheet.rest()}
        </p>
      )}
      <div className="row-btns">
        <button type="submit" className="btn now">
          Back in the crib
        </button>
      </div>
    </form>
  );
}
