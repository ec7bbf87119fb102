import { TextInput } from '@mantine/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '@tanstack/react-router';
import { useState } from 'react';
import { api, must, useLibrary } from '../../api/client';
import type { components } from '../../api/schema';
import { num, unitText, when } from '../../kit/numbers';

type DeviceRow = components['schemas']['DeviceRow'];
type BackupRow = components['schemas']['BackupRow'];

/** What the site runs on: devices, backups, units and language. */
export function Running() {
  return (
    <div className="running">
      <Devices />
      <Backups />
      <Words />
    </div>
  );
}

function Devices() {
  const qc = useQueryClient();
  const list = useQuery({ queryKey: ['tablets'], queryFn: () => must(api.GET('/tablets')) });
  const [editing, setEditing] = useState<{ id: string; name: string }>();
  const [wrong, setWrong] = useState('');
  const change = (id: string, body: { name?: string; shut?: boolean }) =>
    must(api.PATCH('/tablets/{id}', { params: { path: { id } }, body })).then(
      (next) => {
        qc.setQueryData(['tablets'], next);
        setEditing(undefined);
        setWrong('');
      },
      (e: Error) => setWrong(e.message),
    );
  return (
    <section>
      <div className="rule">Devices</div>
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
      {list.data?.length === 0 && (
        <p className="empty">Nobody has signed in on a device with a key of its own yet. It shows here then.</p>
      )}
      {list.data && list.data.length > 0 && (
        <table className="t">
          <thead>
            <tr>
              <th>Device</th>
              <th>At work on it</th>
              <th>Spoke last</th>
              <th className="n">Not sent yet</th>
              <th aria-label="Acts" />
            </tr>
          </thead>
          <tbody>
            {list.data.map((d) => (
              <tr key={d.id} className={d.shutAt ? 'shut' : ''}>
                <td>
                  {editing?.id === d.id ? (
                    <form
                      className="row-btns"
                      style={{ margin: 0 }}
                      onSubmit={(e) => {
                        e.preventDefault();
                        void change(d.id, { name: editing.name });
                      }}
                    >
                      <TextInput
                        aria-label={`Name of device ${short(d)}`}
                        value={editing.name}
                        maxLength={60}
                        data-autofocus
                        onChange={(e) => setEditing({ id: d.id, name: e.currentTarget.value })}
                      />
                      <button type="submit" className="btn sm now">
                        Keep the name
                      </button>
                    </form>
                  ) : (
                    <>
                      <b>{d.name || 'without a name'}</b> <span className="m dim">{short(d)}</span>
                      {d.shutAt && <div className="hld">shut out {when(d.shutAt)}</div>}
                    </>
                  )}
                </td>
                <td>{d.atWork ? d.person : <span className="dim">{d.person && `${d.person} before`}</span>}</td>
                <td className="m">{when(d.spokeAt)}</td>
                <td className="n">{d.backlog}</td>
                <td>
                  <div className="row-btns" style={{ margin: 0, justifyContent: 'flex-end' }}>
                    <button type="button" className="btn sm" onClick={() => setEditing({ id: d.id, name: d.name })}>
                      Name it
                    </button>
                    <button type="button" className="btn sm" onClick={() => void change(d.id, { shut: !d.shutAt })}>
                      {d.shutAt ? 'Let it in' : 'Shut it out'}
                    </button>
                  </div>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <p className="dim">
        A device that is lost is shut out: every sign-in on it ends and none begins. What it sent before stays.
      </p>
    </section>
  );
}

const short = (d: DeviceRow) => d.id.slice(0, 8);

const nights = 28;
const day = 86_400_000;

function Backups() {
  const list = useQuery({ queryKey: ['backups'], queryFn: () => must(api.GET('/backups')) });
  if (!list.data) return null;
  const last = list.data[0];
  const midnight = new Date().setHours(0, 0, 0, 0);
  const made = (from: number) =>
    list.data.find((b: BackupRow) => {
      const at = new Date(b.at).getTime();
      return at >= from && at < from + day;
    });
  const old = !last || Date.now() - new Date(last.at).getTime() > 2 * day;
  return (
    <section>
      <div className="rule">Backups</div>
      <svg
        className="nights"
        viewBox={`0 0 ${nights * 20} 24`}
        role="img"
        aria-label={`${nights} days: a backup on ${
          Array.from({ length: nights }, (_, i) => made(midnight - i * day)).filter(Boolean).length
        } of them`}
      >
        {Array.from({ length: nights }, (_, i) => {
          const from = midnight - (nights - 1 - i) * day;
          const x = i * 20 + 10;
          return made(from) ? (
            <rect key={from} x={x - 7} y={5} width={14} height={14} style={{ fill: 'var(--ok)' }} />
          ) : (
            <path
              key={from}
              d={`M${x} 3L${x + 8} 12L${x} 21L${x - 8} 12Z`}
              style={{ fill: 'url(#hHoldS)', stroke: 'var(--hold-edge)' }}
            />
          );
        })}
      </svg>
      <p className="dim">
        One mark a day, today at the right: a square where a backup was written, a striped diamond where none was.
      </p>
      {last ? (
        <p className={old ? 'hld' : ''}>
          Last written {when(last.at)}: {last.file}, {num(last.bytes / 1e6, 1)} MB.
          {old && ' That is more than two days ago.'}
        </p>
      ) : (
        <p className="hld">No backup was ever written. Whoever runs the server does it: dynacor backup FILE.</p>
      )}
    </section>
  );
}

function Words() {
  const rules = useLibrary().data?.houseRules;
  return (
    <section>
      <div className="rule">Units and language</div>
      {rules && (
        <p>
          Torques in <b>{unitText(rules.primaryTorque)}</b>, beside it {unitText(rules.secondaryTorque)}.{' '}
          <Link to="/library" search={{ shelf: 'rules' }}>
            House rules
          </Link>{' '}
          change that.
        </p>
      )}
      <p>
        Pages are in <b>English</b>. No other language is there yet.
      </p>
    </section>
  );
}
