import { Textarea, TextInput } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { getRouteApi, Link } from '@tanstack/react-router';
import { useState } from 'react';
import { api, type Crew, type Given, type Member, must, useCrew } from '../../api/client';
import { when } from '../../kit/numbers';
import { hexagon } from '../../rosette/geometry';
import { MemberSheet } from './MemberSheet';

const route = getRouteApi('/site');

/** A nut: solid may, a dot may not. */
function Nut({ on }: { on: boolean }) {
  return (
    <svg width="26" height="26" viewBox="-13 -13 26 26" aria-hidden="true">
      {on ? (
        <path d={hexagon(0, 0, 11, 30)} style={{ fill: 'var(--ink)' }} />
      ) : (
        <circle r="2.4" style={{ fill: 'var(--ink-3)' }} />
      )}
    </svg>
  );
}

/** Everybody with their roles; pressing a nut changes it at once, and the trail says who did. */
export function People({ chosen }: { chosen: string | undefined }) {
  const crew = useCrew();
  const qc = useQueryClient();
  const navigate = route.useNavigate();
  const [wrong, setWrong] = useState('');
  const [given, setGiven] = useState<Given[]>([]);
  const [q, setQ] = useState('');
  const c = crew.data;
  if (!c) return <p className="empty">{crew.isError ? (crew.error as Error).message : 'One moment.'}</p>;
  const put = (answer: Promise<Crew>) =>
    answer.then(
      (next) => {
        qc.setQueryData(['crew'], next);
        void qc.invalidateQueries({ queryKey: ['people'] });
        setWrong('');
      },
      (e: Error) => setWrong(e.message),
    );
  const change = (m: Member, role: string) =>
    put(
      must(
        api.PUT('/crew/{id}', {
          params: { path: { id: m.id } },
          body: { roles: m.roles.includes(role) ? m.roles.filter((r) => r !== role) : [...m.roles, role] },
        }),
      ),
    );
  const shown = c.members.filter((m) => m.name.toLowerCase().includes(q.toLowerCase()));
  const member = c.members.find((m) => m.id === chosen);
  const choose = (id: string | undefined) => void navigate({ search: { view: 'people', person: id } });
  return (
    <div className={`people${member ? ' with-sheet' : ''}`}>
      <section>
        <div className="tools-row">
          <TextInput
            aria-label="Search people"
            placeholder="Search"
            value={q}
            onChange={(e) => setQ(e.currentTarget.value)}
          />
          <Link className="btn sm" to="/labels" search={{ of: 'people' }}>
            Cards
          </Link>
          <span className="dim">
            {c.members.filter((m) => m.active).length} people who can sign in; press a nut to change it
          </span>
        </div>
        {wrong && (
          <p className="wrong" role="alert">
            {wrong}
          </p>
        )}
        {given.length > 0 && <GivenPINs list={given} onClose={() => setGiven([])} />}
        <div className="wide-table">
          <table className="t crew">
            <thead>
              <tr>
                <th>Name</th>
                {c.roles.map((r) => (
                  <th key={r} className="role">
                    {r}
                  </th>
                ))}
                <th>Training</th>
              </tr>
            </thead>
            <tbody>
              {shown.map((m) => (
                <tr key={m.id} className={`${m.id === chosen ? 'cur' : ''}${m.active ? '' : ' retired'}`}>
                  <td>
                    <button type="button" className="btn plain name" onClick={() => choose(m.id)}>
                      {m.name}
                    </button>
                    {!m.active && <span className="dim"> retired {when(m.retired)}</span>}
                    {m.onceUntil && <span className="hld"> PIN given, not used</span>}
                  </td>
                  {c.roles.map((r) => (
                    <td key={r} className="role">
                      <button
                        type="button"
                        className="nut"
                        aria-pressed={m.roles.includes(r)}
                        aria-label={`${m.name}: ${r}`}
                        disabled={!m.active}
                        onClick={() => void change(m, r)}
                      >
                        <Nut on={m.roles.includes(r)} />
                      </button>
                    </td>
                  ))}
                  <td className="dim">
                    {m.training.map((t) => (t.until ? `${t.word} to ${t.until}` : t.word)).join(', ') || '–'}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
        <AddPeople
          roles={c.roles}
          onAdded={(list) => {
            setGiven(list);
            void qc.invalidateQueries({ queryKey: ['crew'] });
            void qc.invalidateQueries({ queryKey: ['people'] });
            void qc.invalidateQueries({ queryKey: ['site'] });
          }}
        />
      </section>
      {member && (
        <MemberSheet
          key={member.id}
          m={member}
          subjects={c.subjects}
          put={put}
          onGiven={(g) => {
            setGiven([g]);
            void qc.invalidateQueries({ queryKey: ['crew'] });
          }}
          onClose={() => choose(undefined)}
        />
      )}
    </div>
  );
}

/** PINs that are passed on: shown once. */
function GivenPINs({ list, onClose }: { list: Given[]; onClose: () => void }) {
  return (
    <div className="given" role="status">
      <b>
        Pass these on. Each is good for one sign-in within a day, at which an own one is chosen; they are not shown
        again.
      </b>
      <table className="t">
        <tbody>
          {list.map((g) => (
            <tr key={g.name}>
              <td>{g.name}</td>
              <td className="m pin-shown">{g.pin}</td>
              <td className="dim">till {when(g.until)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="row-btns">
        <button type="button" className="btn" onClick={() => print()}>
          Print
        </button>
        <button type="button" className="btn" onClick={onClose}>
          I have passed them on
        </button>
      </div>
    </div>
  );
}

function AddPeople({ roles, onAdded }: { roles: string[]; onAdded: (list: Given[]) => void }) {
  const [name, setName] = useState('');
  const [own, setOwn] = useState<string[]>(['technician']);
  const [list, setList] = useState('');
  const [wrong, setWrong] = useState('');
  const add = (body: { members?: { name: string; roles: string[] }[]; list?: string }) =>
    must(api.POST('/crew', { body })).then(
      (given) => {
        setWrong('');
        setName('');
        setList('');
        onAdded(given);
      },
      (e: Error) => setWrong(e.message),
    );
  return (
    <div className="add-people">
      <div className="rule">Add people</div>
      <div className="one">
        <TextInput
          label="Name, as it is to stand on records"
          value={name}
          onChange={(e) => setName(e.currentTarget.value)}
        />
        <fieldset className="roles" aria-label="Roles of the new one">
          {roles.map((r) => (
            <button
              key={r}
              type="button"
              className={`btn sm${own.includes(r) ? ' on' : ''}`}
              aria-pressed={own.includes(r)}
              onClick={() => setOwn(own.includes(r) ? own.filter((x) => x !== r) : [...own, r])}
            >
              {r}
            </button>
          ))}
        </fieldset>
        <button type="button" className="btn" onClick={() => void add({ members: [{ name, roles: own }] })}>
          Add
        </button>
      </div>
      <details>
        <summary>Add many by a list</summary>
        <Textarea
          label="A name and a role a line, with a comma between; several roles with a plus"
          placeholder={'O. Strand, technician\nK. Moss, lead + technician'}
          value={list}
          onChange={(e) => setList(e.currentTarget.value)}
          autosize
          minRows={4}
        />
        <button type="button" className="btn" onClick={() => void add({ list })}>
          Add them all
        </button>
      </details>
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
    </div>
  );
}
