import { Autocomplete, Modal, Textarea, TextInput } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { type Addition, api, must, type RecordView, Refused, refusedField, useCrib } from '../../api/client';
import { NameAndPIN } from '../../app/signin';
import { Figure } from '../../kit/Figure';
import { num } from '../../kit/numbers';
import { useSheet } from '../../kit/sheet';

/** What somebody writes; a test under pressure is added when it is closed. */
type Written = Exclude<Addition['kind'], 'test'>;

/** The kinds, as they are offered. */
const kindWords: Record<Written, [name: string, about: string, ask: string]> = {
  audit: [
    'Audit',
    'Fasteners drawn by a rule, read by somebody who did not tighten them',
    'How the joint stood, and what was seen beside the readings',
  ],
  retorque: [
    'Re-torque',
    'Nuts tried again at a torque, each with how far it turned',
    'Why it was done, and how it stood: cold, hot, under pressure',
  ],
  recheck: ['Re-check', 'Looked at or measured again', 'What was checked, how, and what was found'],
  heat: ['Heat cycle', 'Went warm and cold again: it is looked at, cold', 'When, how warm, and how it stands now'],
  finding: [
    'Finding in service',
    'A leak, a loose nut, corrosion, a mark that moved',
    'What was found, where and when',
  ],
  correction: ['Correction', 'Something in the record is not as it was', 'How that is known, and how it came about'],
};

/** The name of a kind. */
export const kindName = (k: Addition['kind']) => (k === 'test' ? 'Test under pressure' : kindWords[k][0]);

interface Draft {
  kind: Written;
  what: string;
  place: string;
  was: string;
  is: string;
  torqueNm: number | '';
  tool: string;
  turned: Record<number, number | ''>;
}

const empty: Draft = { kind: 'retorque', what: '', place: '', was: '', is: '', torqueNm: '', tool: '', turned: {} };

interface Props {
  view: RecordView;
  opened: boolean;
  onClose: () => void;
}

/** A sheet behind a sealed record: what it is about, and the name and PIN of whoever answers for it. */
export function AdditionDialog({ view, opened, onClose }: Props) {
  const qc = useQueryClient();
  const crib = useCrib();
  const sheet = useSheet({ ...empty }, () => undefined); // it is sent with a name and a PIN
  const d = sheet.values;
  const put = sheet.put;
  const error = sheet.refusalOf;
  const fasteners = view.record.state.fasteners;
  const number = view.row.number;
  async function seal(personId: string, pin: string) {
    const again = d.kind === 'retorque';
    const correct = d.kind === 'correction';
    const audits = d.kind === 'audit';
    const moves = audits && view.nextAudit?.by === 'moving_on';
    const unread = fasteners.find((f) => Number.isNaN(d.turned[f.position]));
    if ((again || audits) && (unread || Number.isNaN(d.torqueNm)))
      throw new Error(`What was typed at ${unread?.name ?? 'the torque'} is no figure. Read it again.`);
    const visits = fasteners.flatMap((f) => {
      const read = d.turned[f.position] ?? '';
      if (read === '') return [];
      return [{ fastener: f.position, ...(moves ? { movedNm: read } : { turnedDeg: read }) }];
    });
    await must(
      api.POST('/records/{number}/additions', {
        params: { path: { number } },
        body: {
          after: view.additions.length,
          kind: d.kind,
          what: d.what,
          place: correct ? d.place : '',
          was: correct ? d.was : '',
          is: correct ? d.is : '',
          visits: again || audits ? visits : [],
          torqueNm: again ? d.torqueNm || 0 : 0,
          tool: again || (audits && view.nextAudit?.by !== 'marks') ? d.tool : '',
          personId,
          pin,
        },
      }),
    )
      .then((v) => qc.setQueryData(['record', number], v))
      .catch((e: Error) => {
        if (e instanceof Refused && e.field === 'after') void qc.invalidateQueries({ queryKey: ['record', number] });
        sheet.refused(e);
        throw e instanceof Refused ? new Error(refusedField(e).text) : e;
      });
  }
  const next = view.nextAudit;
  const drawn = fasteners.filter((f) => next?.sample.includes(f.position));
  const moving = next?.by === 'moving_on';
  const tried = fasteners.filter((f) => (d.turned[f.position] ?? '') !== '').length;
  return (
    <Modal opened={opened} onClose={onClose} title={`Add to ${number}`} size="xl" keepMounted={false}>
      <p style={{ fontSize: 17 }}>
        The record itself stays as it was sealed. What you add is signed, stands behind it, and goes with it from now
        on.
      </p>
      <div className="kinds" role="radiogroup" aria-label="What it is">
        {(Object.keys(kindWords) as Written[])
          .filter((k) => k !== 'audit' || view.nextAudit)
          .map((k) => (
            // biome-ignore lint/a11y/useSemanticElements: a large touch target with two lines; a native radio cannot be one
            <button
              key={k}
              type="button"
              role="radio"
              aria-checked={d.kind === k}
              className={`btn name${d.kind === k ? ' on' : ''}`}
              onClick={() => put({ kind: k, turned: {} })} // what was read is of the kind
            >
              <b>{kindWords[k][0]}</b>
              <span>{kindWords[k][1]}</span>
            </button>
          ))}
      </div>
      {d.kind === 'correction' && (
        <div className="two-up">
          <TextInput
            label="Where in the record"
            placeholder="batch of the lubricant"
            {...sheet.field('place')}
            maxLength={200}
          />
          <TextInput label="What stands there" {...sheet.field('was')} maxLength={200} />
          <TextInput label="What is right" {...sheet.field('is')} maxLength={200} />
        </div>
      )}
      {d.kind === 'retorque' && (
        <>
          <div className="two-up">
            <Figure label="Tried at, N·m" unit="N_m" {...sheet.field('torqueNm')} />
            <Autocomplete
              label="Tool, by its tag"
              {...sheet.field('tool')}
              data={(crib.data?.tools ?? []).map((t) => t.tool.tag)}
              maxLength={80}
            />
          </div>
          <fieldset className="visits">
            <legend>
              How far each turned before the tool told, °. 0: it stayed. Empty: not tried. Up to {view.retorqueLimitDeg}
              ° is inside the house rule. <b>{`${tried} of ${fasteners.length} tried`}</b>
            </legend>
            {error('visits') && (
              <p className="wrong" role="alert">
                {error('visits')}
              </p>
            )}
            <div className="visit-grid">
              {fasteners.map((f) => (
                <Figure
                  key={f.position}
                  label={f.name}
                  unit="deg"
                  value={d.turned[f.position] ?? ''}
                  onChange={(deg) => put({ turned: { ...d.turned, [f.position]: deg } })}
                />
              ))}
            </div>
            <button
              type="button"
              className="btn"
              onClick={() =>
                put({ turned: Object.fromEntries(fasteners.map((f) => [f.position, d.turned[f.position] || 0])) })
              }
            >
              All the others stayed: 0°
            </button>
          </fieldset>
        </>
      )}
      {d.kind === 'audit' && next && (
        <>
          <p className="finding">
            <b>
              Drawn: {drawn.length} of {fasteners.length}
            </b>
            {drawn.length < fasteners.length && next.chance !== undefined
              ? `If a tenth were wrong, this sample would find one ${num(next.chance * 100, 0)} times of 100. `
              : 'Every one is read. '}
            {moving
              ? `Pull slowly in the tightening direction, and read the torque at which the nut just moves on: ${num((next.low ?? 0) * 100)} to ${num((next.high ?? 0) * 100)} % of the target.`
              : next.by === 'marks'
                ? 'Compare the marks across nut and face; no tool is put on. Enter by how many degrees each has turned, 0 when it has not.'
                : 'Pull with the wrench at the last setting: no nut may turn. Enter by how many degrees each turned, 0 when it did not.'}
            {(next.mostOut ?? 0) > 0 ? ` ${next.mostOut} may lie outside.` : ' None may lie outside.'} One too many, and
            the whole lot is audited next.
          </p>
          {next.by !== 'marks' && (
            <Autocomplete
              label="Tool, by its tag"
              {...sheet.field('tool')}
              data={(crib.data?.tools ?? []).map((t) => t.tool.tag)}
              maxLength={80}
            />
          )}
          <fieldset className="visits">
            <legend>{moving ? 'Moved on at, N·m' : 'Turned by, °'}. Empty: not read</legend>
            {error('visits') && (
              <p className="wrong" role="alert">
                {error('visits')}
              </p>
            )}
            <div className="visit-grid">
              {drawn.map((f) => (
                <Figure
                  key={f.position}
                  label={f.name}
                  unit={moving ? 'N_m' : 'deg'}
                  value={d.turned[f.position] ?? ''}
                  onChange={(v) => put({ turned: { ...d.turned, [f.position]: v } })}
                />
              ))}
            </div>
          </fieldset>
        </>
      )}
      <Textarea label={kindWords[d.kind][2]} {...sheet.field('what')} autosize minRows={2} mt={10} maxLength={1000} />
      <NameAndPIN
        verb="Sign and add"
        only={(people) => people.filter((p) => view.signers[d.kind]?.includes(p.id))}
        nobody="Nobody here may sign this."
        act={(p, pin) => seal(p.id, pin)}
        onDone={() => {
          put(empty);
          onClose();
        }}
      />
    </Modal>
  );
}
