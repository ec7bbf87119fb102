import { Select, Textarea, TextInput } from '@mantine/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { api, must } from '../../api/client';
import { plainFigure } from '../../kit/figures';
import { when } from '../../kit/numbers';
import { ReasonDialog } from '../../kit/ReasonDialog';
import { useSheet } from '../../kit/sheet';
import {
  entries,
  type Library,
  type LibraryValue,
  type Row,
  readRows,
  type ShelfCode,
  slot,
  writeRows,
} from './shelves';

interface SheetProps {
  shelf: ShelfCode;
  row: Row | undefined; // undefined: a new one
  library: Library;
  engineer: boolean;
  onClose: () => void;
  onKept: (code: string) => void;
}

type Plain = Record<string, unknown>;

const read = (v: Plain, key: string): unknown =>
  key.split('.').reduce<unknown>((o, k) => (o as Plain | undefined)?.[k], v);
function write(v: Plain, key: string, x: unknown): Plain {
  const [first, ...rest] = key.split('.');
  if (!first) return v;
  return { ...v, [first]: rest.length ? write((v[first] as Plain | undefined) ?? {}, rest.join('.'), x) : x };
}

/** One value of the Library: what it holds, its versions with who and why, and the joints whose plans were made with it. */
export function ValueSheet({ shelf, row, library, engineer, onClose, onKept }: SheetProps) {
  const own = !!row && row.version > 0;
  const [editing, setEditing] = useState(!row);
  const [withdrawing, setWithdrawing] = useState(false);
  const qc = useQueryClient();
  const history = useQuery({
    queryKey: ['library', shelf, row?.code],
    queryFn: () => must(api.GET('/library/{shelf}/{code}', { params: { path: { shelf, code: row?.code ?? '' } } })),
    enabled: own,
  });
  const changed = () => {
    void qc.invalidateQueries({ queryKey: ['library'] });
    void qc.invalidateQueries({ queryKey: ['joint'] });
  };
  const value = (v: LibraryValue | undefined) => (v?.[slot[shelf]] ?? {}) as Plain;
  return (
    <aside className="value" aria-label={row ? `${row.code}` : 'A new value'}>
      <div className="row-btns" style={{ marginTop: 0, justifyContent: 'space-between' }}>
        <h2>{row ? row.code.replaceAll('_', ' ') : 'The site’s own'}</h2>
        <button type="button" className="btn sm" onClick={onClose}>
          Close
        </button>
      </div>
      {editing ? (
        <ValueForm
          shelf={shelf}
          library={library}
          code={row?.code ?? ''}
          start={value(row?.value)}
          askReason={own}
          onCancel={() => (row ? setEditing(false) : onClose())}
          onKept={(code) => {
            changed();
            setEditing(false);
            onKept(code);
          }}
        />
      ) : (
        row && (
          <>
            <p className={own ? '' : 'dim'}>
              {own
                ? `The site's own value, version ${row.version}. It comes before the built-in one.`
                : 'Built in. A site’s own value beside it, under the same name, comes first.'}
            </p>
            {row.note && <p className="dim">{row.note}</p>}
            <div className="row-btns">
              <button type="button" className="btn sm" disabled={!engineer} onClick={() => setEditing(true)}>
                {own ? 'New version' : 'Make the site’s own from it'}
              </button>
              {own && (
                <button type="button" className="btn sm" disabled={!engineer} onClick={() => setWithdrawing(true)}>
                  Withdraw
                </button>
              )}
              {!engineer && <span className="dim">An engineer changes the Library.</span>}
            </div>
            {own && (
              <>
                <div className="rule">Where it is used</div>
                {history.data?.uses.length === 0 && <p className="dim">No plan in force was made with it.</p>}
                <ul className="uses">
                  {history.data?.uses.map((u) => (
                    <li key={u.tag}>
                      <Link to="/joints/$tag" params={{ tag: u.tag }}>
                        <b className="m">{u.tag}</b> {u.name}
                      </Link>
                      <span className={u.version < row.version ? 'hld' : 'dim'}>
                        plan {u.planVersion} with version {u.version}
                        {u.version < row.version ? (u.begun ? ', work has begun with it' : ', to be made anew') : ''}
                      </span>
                    </li>
                  ))}
                </ul>
                <div className="rule">Versions</div>
                <ul className="versions">
                  {history.data?.versions.map((v, i) => (
                    <li key={v.version}>
                      <b>
                        {v.version}
                        {v.withdrawn ? ', withdrawn' : ''}
                      </b>{' '}
                      {v.madeBy}, {when(v.madeAt)}
                      {v.value.reason && <div className="dim">{v.value.reason}</div>}
                      <Changes
                        shelf={shelf}
                        library={library}
                        now={value(v.value)}
                        before={value(history.data?.versions[i + 1]?.value)}
                      />
                    </li>
                  ))}
                </ul>
              </>
            )}
          </>
        )
      )}
      {row && (
        <ReasonDialog
          opened={withdrawing}
          title={`Withdraw ${row.code}`}
          verb="Withdraw it"
          text="Its versions stay. New plans use the built-in value, where there is one; plans made with it are told."
          onClose={() => setWithdrawing(false)}
          onDone={async (reason) => {
            await must(
              api.POST('/library/{shelf}/{code}/withdraw', {
                params: { path: { shelf, code: row.code } },
                body: { reason },
              }),
            );
            changed();
            onClose();
          }}
        />
      )}
    </aside>
  );
}

const said = (v: unknown) =>
  Array.isArray(v) && typeof v[0] === 'object'
    ? writeRows(v as Parameters<typeof writeRows>[0])
    : Array.isArray(v)
      ? v.join(', ')
      : v === undefined || v === '' || v === null
        ? 'nothing'
        : String(v);

/** What a version changed: the old value struck through, the new one beside it. */
function Changes({ shelf, library, now, before }: { shelf: ShelfCode; library: Library; now: Plain; before: Plain }) {
  if (Object.keys(before).length === 0) return null;
  const changed = entries(shelf, library).filter((e) => said(read(now, e.key)) !== said(read(before, e.key)));
  return (
    <>
      {changed.map((e) => (
        <div key={e.key}>
          {e.label}: <s>{said(read(before, e.key))}</s> {said(read(now, e.key))}
        </div>
      ))}
    </>
  );
}

interface FormProps {
  shelf: ShelfCode;
  library: Library;
  code: string;
  start: Plain;
  askReason: boolean;
  onCancel: () => void;
  onKept: (code: string) => void;
}

function ValueForm({ shelf, library, code, start, askReason, onCancel, onKept }: FormProps) {
  const list = entries(shelf, library);
  const typed: Record<string, string> = Object.fromEntries(
    list.map((e) => [
      e.key,
      e.key === 'source' && read(start, e.key) === 'library' ? '' : said(read(start, e.key)).replace(/^nothing$/, ''),
    ]),
  );
  const sheet = useSheet({ name: code, texts: typed, reason: '' }, keep);
  const { name, texts, reason } = sheet.values;
  const err = (...keys: string[]) => keys.map(sheet.refusalOf).find(Boolean);
  const set = (key: string) => (v: string) => sheet.put((old) => ({ texts: { ...old.texts, [key]: v } }));
  async function keep() {
    let value: Plain = {};
    for (const e of list) {
      const t = texts[e.key] ?? '';
      if (e.kind === 'number') value = write(value, e.key, t.trim() === '' ? 0 : plainFigure(t));
      else if (e.kind === 'yes') value = write(value, e.key, t === 'true');
      else if (e.kind === 'rows')
        value = write(
          value,
          e.key,
          readRows(t, ((read(value, 'keyNames') as string[] | undefined) ?? []).length, plainFigure),
        );
      else if (e.kind === 'many' || e.kind === 'words')
        value = write(
          value,
          e.key,
          t
            .split(',')
            .map((x) => x.trim())
            .filter(Boolean),
        );
      else value = write(value, e.key, t);
    }
    const rows = (read(value, 'rows') as ReturnType<typeof readRows> | undefined) ?? [];
    const line = rows.findIndex((r) => [r.nominal, r.min, r.max].some(Number.isNaN));
    if (line >= 0) {
      const at = `Line ${line + 1} (${rows[line]?.keys.join(', ')})`;
      const remedy = 'Write the keys, the thread, then one torque or the least and the most.';
      sheet.refuse('rows', `${at} has no torque that is a number. ${remedy}`);
      return;
    }
    const bad = list.find((e) => e.kind === 'number' && Number.isNaN(read(value, e.key)));
    if (bad) {
      sheet.refuse(bad.field ?? bad.key, `“${texts[bad.key]}” is not a number. Enter a plain number.`);
      return;
    }
    const codes = {
      lubricants: { code: name },
      materials: { grade: name },
      gaskets: { code: name },
      threads: { thread: name },
      tables: { code: name },
      flanges: { text: name },
    }[shelf];
    await must(
      api.PUT('/library/{shelf}/{code}', {
        params: { path: { shelf, code: name.trim() || ' ' } },
        body: { [slot[shelf]]: { ...codes, ...value }, reason } as LibraryValue,
      }),
    );
    onKept(name.trim());
  }
  return (
    <form onSubmit={sheet.submit}>
      <div className="fields">
        <TextInput
          label={shelf === 'threads' ? 'Thread' : shelf === 'materials' ? 'Grade' : 'Code'}
          value={code.includes('_') ? name.replaceAll('_', ' ') : name}
          readOnly={code.includes('_')} // it takes the place of a built-in one
          onChange={(e) => sheet.put({ name: e.currentTarget.value })}
          error={err('code', 'thread')}
          disabled={askReason}
        />
        {list.map((e) =>
          e.kind === 'rows' ? (
            <Textarea
              key={e.key}
              className="wide"
              label={e.label}
              description="One line a size, cells separated by tab or semicolon: paste from a spreadsheet. Leave the thread empty where there is none."
              placeholder={'BT-40; M12; 85\nBT-50; M16; 190; 210'}
              autosize
              minRows={5}
              value={texts[e.key] ?? ''}
              onChange={(x) => set(e.key)(x.currentTarget.value)}
              error={err(e.field ?? e.key)}
            />
          ) : e.kind === 'choice' ? (
            <Select
              key={e.key}
              label={e.label}
              data={(e.choices ?? []).map(([value, label]) => ({ value, label }))}
              value={texts[e.key] || null}
              onChange={(v) => set(e.key)(v ?? '')}
              error={err(e.field ?? e.key)}
            />
          ) : e.kind === 'yes' || e.kind === 'many' ? (
            <fieldset key={e.key} className="ticks">
              <legend>{e.label}</legend>
              {(e.kind === 'yes' ? ([['true', 'yes']] as [string, string][]) : (e.choices ?? [])).map(([v, label]) => {
                const on = (texts[e.key] ?? '').split(', ').includes(v);
                return (
                  <label key={v}>
                    <input
                      type="checkbox"
                      checked={on}
                      onChange={() => {
                        const rest = (texts[e.key] ?? '').split(', ').filter((x) => x && x !== v && x !== 'false');
                        set(e.key)((on ? rest : [...rest, v]).join(', '));
                      }}
                    />
                    {label}
                  </label>
                );
              })}
            </fieldset>
          ) : (
            <TextInput
              key={e.key}
              label={e.label}
              value={texts[e.key] ?? ''}
              onChange={(x) => set(e.key)(x.currentTarget.value)}
              error={err(e.field ?? e.key)}
              inputMode={e.kind === 'number' ? 'decimal' : undefined}
              className={e.wide ? 'wide' : ''}
            />
          ),
        )}
        <Textarea
          label={askReason ? 'What changed, and on what evidence' : 'On what evidence'}
          value={reason}
          onChange={(e) => sheet.put({ reason: e.currentTarget.value })}
          error={err('reason')}
          className="wide"
          autosize
          minRows={2}
        />
      </div>
      {sheet.rest() && (
        <p className="wrong" role="alert">
          {sheet.rest()}
        </p>
      )}
      <div className="row-btns">
        <button type="submit" className="btn now">
          Keep this version
        </button>
        <button type="button" className="btn" onClick={onCancel}>
          Leave it
        </button>
      </div>
    </form>
  );
}
