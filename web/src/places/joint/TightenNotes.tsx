import { Cautions } from '../../kit/Cautions';
import { bothTorques, num } from '../../kit/numbers';
import { ToolCoach } from '../../kit/ToolCoach';
import { WorkingSheet } from '../../kit/Working';
import { WentOn } from './Ease';
import { markGoes, turnWords } from './hand';
import { LiveView } from './LiveTool';
import { RunDownWith } from './RunDownWith';
import { capital, type Work } from './useTighten';

/** What must be known before the pull: cautions, until when, from where, the working, and how the tool shows it. */
export function TightenNotes({ w }: { w: Work }) {
  const {
    s,
    plan,
    pass,
    hand,
    live,
    here,
    byTool,
    phone,
    several,
    confirming,
    pressure,
    sends,
    auto,
    takes,
    looked,
    band,
    final,
    linked,
    tool: t,
    group: g,
  } = w;
  const working = w.working.shown;
  return (
    <>
      {live && (
        <Cautions
          list={[
            ...(plan.holds && pass.kind === 'ease' && pass.percent > 0
              ? [`${plan.holds} Let go a little all round; stand out of their line.`]
              : []),
            ...(s.cautions ?? []),
            ...(pass.kind === 'ease' && pass.caution ? [pass.caution] : []),
          ]}
        />
      )}
      {pass.caution && live && pass.kind !== 'ease' && (
        <p className="finding stop">
          <b>Caution</b> {pass.caution}
        </p>
      )}
      {pass.opens && (
        <p className="opens">
          <svg width="34" height="22" viewBox="0 0 34 22" aria-hidden="true">
            <path
              d="M10 11H2M2 11l6 -6M2 11l6 6M24 11H32M32 11l-6 -6M32 11l-6 6"
              style={{ fill: 'none', stroke: 'currentColor', strokeWidth: 2.4 }}
            />
          </svg>
          <b>This opens:</b> {pass.opens}
        </p>
      )}
      {live && here && ['hand', 'shape', 'undo', 'ease'].includes(pass.kind) && (
        <RunDownWith group={g} easing={pass.kind === 'ease'} value={w.runDown} onChange={w.setRunDown} />
      )}
      {(pass.until || pass.datum || (!byTool && pass.why)) && (
        <p className="until">
          {pass.until && pass.kind !== 'effort' && (
            <>
              <b>Until:</b> {pass.until}{' '}
            </>
          )}
          {pass.datum && (
            <>
              <b>From:</b> {pass.datum}.{' '}
            </>
          )}
          {pass.turnDeg && (phone || pass.kind === 'turns') ? (
            <>
              <b>Turn:</b> {turnWords(pass.turnDeg)}.{' '}
            </>
          ) : null}
          {pass.turnDeg && pass.kind !== 'ease' ? `${markGoes(pass.turnDeg)}, seen from the nut end. ` : ''}
          {!byTool && pass.why}
        </p>
      )}
      {pass.kind === 'ease' && <WentOn w={w} />}
      <div className="chain">
        {byTool && <span>= {bothTorques(pass.torqueNm, plan.houseRules)} at the nut</span>}
        <button type="button" className="btn plain sm" style={{ height: 24, fontSize: 15 }} onClick={w.working.toggle}>
          {working ? 'close the working' : 'show the working'}
        </button>
      </div>
      {working && (
        <WorkingSheet
          workings={
            several
              ? plan.workings.filter((w) => !w.title.includes(' · ') || w.title.endsWith(` · ${g.groupName}`))
              : plan.workings
          }
          titles={pass.kind === 'ease' ? ['What it takes'] : ['From the nut', 'Stages', 'What the', 'Torque']}
        />
      )}
      {!working && t && live && (
        <LiveView
          live={linked}
          tool={t}
          number={here ? plan.chalk[here - 1] : undefined}
          ready={takes}
          auto={auto}
          quiet={!sends}
          lowNm={final ? g.allowedMin : pass.torqueNm * (1 - band)}
          highNm={final ? g.allowedMax : pass.torqueNm * (1 + band)}
        />
      )}
      {!working && t && (confirming || !sends || !live) && (
        <div className="coach">
          <ToolCoach
            tool={t}
            setting={hand.setting}
            coach={s.coach}
            width={Math.max(300, w.side.width - 8)}
            compact={!!phone}
            pull={confirming && live ? (pressure ? undefined : g.setting) : g.pull}
          />
        </div>
      )}
      {looked && (
        <p className="m" style={{ fontSize: 16, fontWeight: 600 }}>
          {capital(looked.name)}: {looked.state.replace('_', ' ')}
          {looked.torqueNm > 0 && `, ${num(looked.torqueNm, 0)} N·m`}
        </p>
      )}
    </>
  );
}
