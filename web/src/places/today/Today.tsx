import { useHotkeys } from '@mantine/hooks';
import { Link, useNavigate } from '@tanstack/react-router';
import { type Today, useToday } from '../../api/client';
import { num, unitText, when } from '../../kit/numbers';
import { PlantLine } from '../../kit/PlantLine';
import { Glyph, glyphWords, TagPlate } from '../../rosette/Glyph';
import { GroupRosette } from '../../rosette/GroupRosette';
import { Asks } from './Asks';
import { ByPlan } from './ByPlan';
import { FirstRecord } from './FirstRecord';
import { Hands } from './Hands';
import './today.css';
import { DueRuler } from './DueRuler';

type InHand = Today['inHand'][number];

/** What waits on whom: the joint in hand, what comes next, the plant, what stopped, what falls due. */
export function TodayPlace() {
  const today = useToday();
  const navigate = useNavigate();
  const t = today.data;
  const first = t?.inHand[0];
  useHotkeys([['Enter', () => first && void navigate({ to: '/joints/$tag', params: { tag: first.tag } })]]);
  if (!t) {
    return (
      <p className="empty" role="alert">
        {today.isError ? (today.error as Error).message : 'One moment.'}
      </p>
    );
  }
  return (
    <div className="today">
      {t.sealed === 0 && <FirstRecord joints={t.areas.reduce((n, a) => n + a.total, 0)} first={first?.tag} />}
      {(t.sealed > 0 || first) && (
        <section className="t1">
          <div className="rz grid-bg">{first ? <InHandRosette h={first} /> : <EmptyCircle />}</div>
          <div className="nw1">
            <p className="sh">
              {new Date(t.now).toLocaleDateString('en-GB', { weekday: 'long', day: 'numeric', month: 'long' })}.{' '}
              {t.site}.
            </p>
            {first?.state ? <DoNow h={first} /> : <NothingInHand t={t} />}
          </div>
          <div className="then">
            <div className="rule">Then, in this order</div>
            {t.next
              .map((n) => ({ ...n, text: n.summary || glyphWords[n.glyph] || '' }))
              .filter((x) => x.glyph !== 'stopped')
              .filter((x, i, all) => all.findIndex((y) => y.tag === x.tag) === i)
              .slice(0, 3)
              .map((x) => (
                <Link key={x.tag} to="/joints/$tag" params={{ tag: x.tag }} className="q">
                  <Glyph family={x.family} count={x.bolts} state={x.glyph} size={40} />
                  <span>
                    <span className="m">{x.tag}</span> <b>{x.name}</b>
                    <small>{x.text}</small>
                  </span>
                </Link>
              ))}
          </div>
        </section>
      )}
      <Asks list={t.asks} />
      <ByPlan list={t.shift} />
      <Hands lists={t.hands ?? []} />
      {t.areas.length > 0 && (
        <section className="pl">
          <div className="rule">
            The plant{t.line ? `, ${t.line}` : ''}
            <span className="r leg">
              {Object.entries(glyphWords)
                .filter(([s]) => s !== 'retired')
                .map(([s, w]) => (
                  <span key={s}>
                    <Glyph count={8} state={s} share={0.4} size={24} />
                    {w}
                  </span>
                ))}
            </span>
          </div>
          <PlantLine areas={t.areas} at={first?.area} />
          <div
            className="cols"
            style={{ gridTemplateColumns: `repeat(${Math.max(1, t.areas.length)}, minmax(214px, 1fr))` }}
          >
            {t.areas.map((a) => (
              <div key={a.name} className="col">
                <Link to="/joints" search={{ area: a.name }} className="ch">
                  {a.name}
                </Link>
                <Dimension text={`${a.accepted} of ${a.total} accepted`} />
                <div className="g">
                  {a.joints.map((j) => {
                    const run = t.inHand.find((h) => h.tag === j.tag);
                    const done = run?.state
                      ? run.state.passes.reduce((n, p) => n + p.done, 0) /
                        Math.max(1, run.state.passes.length * j.bolts)
                      : 0;
                    return (
                      <Link
                        key={j.tag}
                        to="/joints/$tag"
                        params={{ tag: j.tag }}
                        className={`cell${j.tag === first?.tag ? ' nowc' : ''}`}
                        title={`${j.name}. ${j.summary}`}
                      >
                        <Glyph family={j.family} count={j.bolts} state={j.glyph} share={done} size={36} label={j.tag} />
                        <span className="m">{j.tag}</span>
                      </Link>
                    );
                  })}
                  {a.total > a.joints.length && (
                    <Link to="/joints" search={{ area: a.name }} className="cell more">
                      {a.total - a.joints.length} more
                    </Link>
                  )}
                </div>
              </div>
            ))}
          </div>
        </section>
      )}
      <section className="bt">
        <div>
          <div className="rule">
            Stopped, and why<span className="r">who can clear it</span>
          </div>
          {t.stopped.length === 0 && <p className="empty">Nothing is stopped.</p>}
          {t.stopped.slice(0, 5).map((s) => (
            <Link key={s.tag} to="/joints/$tag" params={{ tag: s.tag }} className="st">
              <Glyph family={s.family} count={s.bolts} state={s.glyph} size={28} />
              <span className="m tg">{s.tag}</span>
              <span className="why-text">{s.why}</span>
              <span className="whom">{s.who}</span>
            </Link>
          ))}
        </div>
        <div>
          <div className="rule">
            <Link to="/due">Falls due</Link>
            <span className="r">tools, two weeks; joints to look at again</span>
          </div>
          <DueRuler now={t.now} due={t.due} />
          {t.again.slice(0, 4).map((s) => (
            <Link key={s.tag} to="/joints/$tag" params={{ tag: s.tag }} className="st">
              <Glyph family={s.family} count={s.bolts} state={s.glyph} size={28} />
              <span className="m tg">{s.tag}</span>
              <span className="why-text">{s.why}</span>
              <span className="whom">{s.glyph === 'due_again' ? 'now' : when(s.since)}</span>
            </Link>
          ))}
        </div>
      </section>
    </div>
  );
}

function DoNow({ h }: { h: InHand }) {
  const s = h.state;
  const tighten = s.station === 'tighten' && s.next && !s.blocked.length;
  return (
    <>
      <div style={{ display: 'flex', gap: 12, alignItems: 'center' }}>
        <TagPlate text={h.tag} size={20} />
        <span style={{ font: '600 18px/1.1 var(--text)' }}>
          {h.name}
          {tighten ? `, pass ${s.pass} of ${s.passes.length}` : ''}
        </span>
      </div>
      <h1 className="nw">{h.headline}</h1>
      {tighten ? (
        <p>
          Set <b className="m">{num(s.setting, 2)}</b> {unitText(s.passes[s.pass - 1]?.unit ?? 'N_m')} on{' '}
          {s.setUp?.string.find((t) => t.kind === 'pump') ? 'the gauge of' : ''} {s.wrench?.tag}. {s.left} left in this
          pass, about {num(Math.max(1, s.minutes), 0)} min.
        </p>
      ) : (
        <p>{h.text}</p>
      )}
      <div className="ft">
        <Link to="/joints/$tag" params={{ tag: h.tag }} className="btn now" style={{ minWidth: 190 }}>
          {tighten ? 'Carry on' : 'Open it'} <kbd>Enter</kbd>
        </Link>
        <span className="dim">begun by {h.startedBy}</span>
      </div>
    </>
  );
}

function NothingInHand({ t }: { t: Today }) {
  return (
    <>
      <h1>Nothing is waiting for you</h1>
      <p>
        {t.due[0]
          ? `Next falls due: ${t.due[0].tag}, calibration to ${t.due[0].on}.`
          : 'Nothing falls due in the next weeks.'}
      </p>
      <div className="ft">
        <Link to="/joints" className="btn now">
          Choose a joint
        </Link>
      </div>
    </>
  );
}

function InHandRosette({ h }: { h: InHand }) {
  const s = h.state;
  if (!s) return null;
  const g = h.group;
  const pass = s.passes[(s.pass || s.passes.length) - 1];
  return (
    <GroupRosette
      size={200}
      group={g}
      chalk={h.chalk}
      fasteners={s.fasteners}
      next={s.station === 'tighten' ? s.next?.fastener : undefined}
      prev={s.station === 'tighten' && s.prev ? s.prev : undefined}
      aim={g.finalNm && pass?.torqueNm ? pass.torqueNm / g.finalNm : 1}
      now={s.station === 'tighten'}
      lines={[1]}
      label={`${h.tag}: ${h.text}`}
    />
  );
}

function EmptyCircle() {
  return (
    <svg width="180" height="180" viewBox="-90 -90 180 180" role="img" aria-label="No joint in hand">
      <circle r="70" style={{ fill: 'none', stroke: 'var(--ink-3)', strokeWidth: 1.5, strokeDasharray: '7 6' }} />
    </svg>
  );
}

function Dimension({ text }: { text: string }) {
  return (
    <div className="dimension">
      <i />
      <span>{text}</span>
      <i />
    </div>
  );
}
