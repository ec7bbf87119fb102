import { Modal } from '@mantine/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { getRouteApi, Link } from '@tanstack/react-router';
import { useEffect, useState } from 'react';
import { v7 as uuidv7 } from 'uuid';
import { api, must, type PressureTest, type PressureTestEventInput } from '../../api/client';
import { useSession } from '../../api/session';
import { NameAndPIN } from '../../app/signin';
import { Cautions } from '../../kit/Cautions';
import { digits, num, when } from '../../kit/numbers';
import { ReasonDialog } from '../../kit/ReasonDialog';
import { WorkingSheet } from '../../kit/Working';
import { TagPlate } from '../../rosette/Glyph';
import { Act } from './Act';
import { KindShape } from './KindShape';
import { HoldSum } from './Sum';
import { Trace } from './Trace';
import { UnderTest, Zone } from './UnderTest';
import './tests.css';

const route = getRouteApi('/joints/tests/$tag');

/** The present time by the clock of the server, every quarter of a second. */
function useServerNow(said: string | undefined) {
  const [off, setOff] = useState(0);
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    if (said) setOff(Date.parse(said) - Date.now());
  }, [said]);
  useEffect(() => {
    const t = setInterval(() => setNow(Date.now()), 250);
    return () => clearInterval(t);
  }, []);
  return now + off;
}

export type Send = (event: Omit<PressureTestEventInput, 'id'>) => Promise<void>;

/** A test under pressure: what must be so, the steps up, the holds, a look at each joint, and down again. */
export function TestPlace() {
  const { tag } = route.useParams();
  const qc = useQueryClient();
  const { may } = useSession();
  const key = ['test', tag];
  const test = useQuery({
    queryKey: key,
    queryFn: () => must(api.GET('/pressure-tests/{tag}', { params: { path: { tag } } })),
    refetchInterval: (q) => (q.state.data?.sealed ? false : 4000),
    retry: false,
  });
  const now = useServerNow(test.data?.now);
  const [working, setWorking] = useState(false);
  const [withdraw, setWithdraw] = useState(false);
  const [noting, setNoting] = useState(false);
  const [signing, setSigning] = useState<'leader' | 'witness'>();
  const [signId, setSignId] = useState('');
  const v = test.data;
  if (!v) return <p className="empty">{test.isError ? (test.error as Error).message : 'Fetching the test.'}</p>;
  const { spec, state } = v;
  const take = (next: PressureTest) => {
    qc.setQueryData(key, next);
    void qc.invalidateQueries({ queryKey: ['tests'] });
  };
  const send: Send = async (event) =>
    take(
      await must(
        api.POST('/pressure-tests/{tag}/events', { params: { path: { tag } }, body: { ...event, id: uuidv7() } }),
      ),
    );
  const begun = v.events.length > 0;
  const sign = (as: 'leader' | 'witness') => {
    setSignId(uuidv7());
    setSigning(as);
  };
  const judged = state.holds.find((h) => h.judged);
  const sum = judged && <HoldSum v={v} hold={judged} working={working} onWorking={() => setWorking((w) => !w)} />;
  return (
    <div className="test-page">
      <header className="test-head">
        <TagPlate text={tag} size={30} />
        <h1 className="title">{spec.title}</h1>
        <span className="dim">
          {spec.procedure} · {spec.joints.join(', ')}
        </span>
        <KindShape kind={spec.kind} word={v.kindWord} />
      </header>
      <div className="test-sheet">
        <div className="test-left">
          {spec.steps?.length || state.trace.length > 0 ? <Trace v={v} now={now} /> : null}
          {!v.sealed && (
            <div className="wide-cautions">
              <Cautions list={v.cautions} />
            </div>
          )}
          {spec.kind === 'pneumatic' && <Zone v={v} />}
          <UnderTest v={v} />
          <section className="facts">
            <h2 className="rule">What was laid out</h2>
            <dl>
              <dt>by</dt>
              <dd>{v.laidOutBy}</dd>
              {spec.designBar ? (
                <>
                  <dt>design pressure</dt>
                  <dd className="m">{digits(spec.designBar)} bar</dd>
                </>
              ) : null}
              {spec.testBar !== undefined && spec.kind !== 'purge' && (
                <>
                  <dt>test pressure</dt>
                  <dd className="m">{digits(spec.testBar)} bar</dd>
                </>
              )}
              {spec.mostBar ? (
                <>
                  <dt>the weakest part takes</dt>
                  <dd className="m">{digits(spec.mostBar)} bar</dd>
                </>
              ) : null}
              {spec.gauge.tag && (
                <>
                  <dt>gauge {spec.gauge.tag}</dt>
                  <dd className="m">
                    to {digits(spec.gauge.rangeBar)} bar, a mark {digits(spec.gauge.markBar)} bar, checked until{' '}
                    {spec.gauge.checkBy}
                  </dd>
                </>
              )}
            </dl>
          </section>
        </div>
        <div className="test-right">
          {v.withdrawn ? (
            <div className="finding stop" role="status">
              <b>Withdrawn</b>
              {v.withdrawn}
            </div>
          ) : v.sealed ? (
            <div className={`sealed-test${v.sealed.good ? ' good' : v.sealed.bad ? ' bad' : ''}`} role="status">
              <h2>{state.verdict.word}</h2>
              <p>{state.verdict.sentence}</p>
              <p className="dim">
                Sealed {when(v.sealed.at)}, led by {state.signatures.find((s) => s.as === 'leader')?.name}, seen by{' '}
                {state.signatures.find((s) => s.as === 'witness')?.name}. It stands behind the records of its joints.
              </p>
              <p className="m mark">{v.sealed.mark.slice(0, 16)}</p>
            </div>
          ) : (
            <>
              <Act v={v} now={now} send={send} onSign={sign} may={may('recordPressureTest')}>
                {sum}
              </Act>
              <Cautions list={v.cautions} />
            </>
          )}
          {v.sealed && sum}
          {working && judged?.sum.working && <WorkingSheet workings={[judged.sum.working]} />}
          {working && v.energyHow && <WorkingSheet workings={[v.energyHow]} />}
          <div className="row-btns more-acts">
            {!begun && may('putPressureTest') && !v.withdrawn && (
              <>
                <Link className="btn sm" to="/joints/tests/new" search={{ change: tag }}>
                  Change it
                </Link>
                <button type="button" className="btn sm" onClick={() => setWithdraw(true)}>
                  Withdraw it
                </button>
              </>
            )}
            {!v.sealed && begun && (
              <button type="button" className="btn sm" onClick={() => setNoting(true)}>
                Note
              </button>
            )}
            {may('putPressureTest') && (
              <Link className="btn sm" to="/joints/tests/new" search={{ from: tag }}>
                Another like it
              </Link>
            )}
            <a
              className="btn sm"
              href={`/api/pressure-tests/${encodeURIComponent(tag)}/sheet.pdf`}
              target="_blank"
              rel="noopener"
            >
              Sheet, PDF
            </a>
            {v.sealed && (
              <a
                className="btn sm"
                href={`/api/pressure-tests/${encodeURIComponent(tag)}/sheet.json`}
                download={`${tag}.json`}
              >
                The sealed sheet
              </a>
            )}
            <button type="button" className="btn sm" onClick={() => print()}>
              Print
            </button>
          </div>
          <Log v={v} />
        </div>
      </div>
      <Modal
        opened={!!signing}
        onClose={() => setSigning(undefined)}
        title={
          signing === 'leader'
            ? 'Sign for having led the test'
            : state.phase === 'before'
              ? 'Be its witness'
              : 'Sign for having seen the test'
        }
        size="lg"
      >
        <p style={{ fontSize: 17 }}>
          {state.phase === 'before'
            ? 'The zone is closed and empty. The witness stays until the pressure is gone, and has no hand in the test.'
            : `${state.verdict.word}. ${state.verdict.sentence}`}
        </p>
        <NameAndPIN
          verb="Sign"
          only={(people) => people.filter((p) => (signing === 'leader' ? v.leaders : v.witnesses).includes(p.id))}
          nobody="Nobody here may sign this as the test stands."
          act={async (p, pin) =>
            take(
              await must(
                api.POST('/pressure-tests/{tag}/signatures', {
                  params: { path: { tag } },
                  body: { id: signId, as: signing ?? 'leader', personId: p.id, pin },
                }),
              ),
            )
          }
          onDone={() => setSigning(undefined)}
        />
      </Modal>
      <ReasonDialog
        opened={withdraw}
        title={`Withdraw ${tag}`}
        text="It stays in the list, and says why it was not done."
        verb="Withdraw it"
        onClose={() => setWithdraw(false)}
        onDone={async (reason) =>
          take(
            await must(
              api.POST('/pressure-tests', { body: { spec, version: v.version, withdrawn: reason.slice(0, 200) } }),
            ),
          )
        }
      />
      <ReasonDialog
        opened={noting}
        title="Note"
        text="It stands in the sheet with your name and the time."
        verb="Keep it"
        onClose={() => setNoting(false)}
        onDone={(note) => send({ kind: 'noted', note })}
      />
    </div>
  );
}

/** Everything that was done, the newest first; the last reading or look can be taken back. */
function Log({ v }: { v: PressureTest }) {
  if (v.events.length === 0) return null;
  const what = (e: PressureTest['events'][number]) => {
    switch (e.kind) {
      case 'read':
        return `${e.barAs ?? num(e.bar ?? 0)} bar${e.tempAs ? `, ${e.tempAs} °C` : ''}`;
      case 'looked':
        return `${e.joint} ${e.dry ? 'dry' : 'weeps'}${e.note ? `: ${e.note}` : ''}`;
      case 'confirmed':
        return v.state.gates.find((g) => g.code === e.gate)?.what ?? e.gate;
      case 'opened':
        return `Opened: ${v.state.gates.find((g) => g.code === e.gate)?.what ?? e.gate}`;
      case 'driven':
        return `driven ${e.way}`;
      case 'let_down':
        return `let down${e.barAs ? `: ${e.barAs} bar left` : ''}`;
      case 'taken_back':
        return `taken back: ${e.note}`;
      case 'signed':
        return `signed as ${e.as}`;
      default:
        return e.note;
    }
  };
  const back = new Set(v.events.filter((e) => e.kind === 'taken_back').map((e) => e.ref));
  return (
    <details className="log" open={!!v.sealed}>
      <summary>What was done, {v.events.length} lines</summary>
      <table className="t">
        <tbody>
          {[...v.events].reverse().map((e) => (
            <tr key={e.id}>
              <td className="m">{new Date(e.at).toTimeString().slice(0, 8)}</td>
              <td>{back.has(e.id) ? <s>{what(e)}</s> : what(e)}</td>
              <td className="dim">{e.person.name}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}
