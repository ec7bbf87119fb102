import { Checkbox, Drawer, SegmentedControl, TextInput } from '@mantine/core';
import { useState } from 'react';
import type { Plan, RunEvent, RunState } from '../../api/client';
import type { LocalRun, RunStore } from '../../api/runStore';
import { usePrefs } from '../../app/prefs';
import { loadCore } from '../../core/core';
import { figureIn, readingOf } from '../../kit/figures';
import { num, unitText, wholeOf } from '../../kit/numbers';
import { ReasonDialog } from '../../kit/ReasonDialog';
import { AskedAgain } from './AskedAgain';
import { canListen } from './feedback';
import { type Hand, isPressure } from './hand';
import { MadeSure } from './MadeSure';
import { ToolsForm } from './ToolsForm';

/** What a person gives a reason for. */
export type Why = 'skip' | 'back' | 'hold' | 'loosen';

interface DialogProps {
  why: Why | undefined;
  state: RunState;
  plan: Plan;
  run: LocalRun & { store: RunStore | undefined };
  hand: Hand;
  pass: number;
  here: number | undefined;
  name: string; // of the fastener at hand: bolt 7
  tools: boolean;
  device: boolean;
  onHand: (index: number) => void;
  onClose: () => void;
  onCloseTools: () => void;
  onCloseDevice: () => void;
  onKeep: (e: Partial<RunEvent> & Pick<RunEvent, 'kind'>) => void;
}

/** The reasons asked for in Tighten, the change of tools, and what is switched on at this device. */
export function TightenDialogs({
  why,
  state: s,
  plan,
  run,
  hand,
  pass,
  here,
  name,
  tools,
  device,
  onHand,
  onClose,
  onCloseTools,
  onCloseDevice,
  onKeep,
}: DialogProps) {
  const [prefs, setPrefs] = usePrefs();
  const [letGo, setLet] = useState({ with: '', at: '' });
  const [sure, setSure] = useState<string[]>([]);
  const gates = s.loosenGate ?? [];
  const l = hand.group.loosening;
  const Name = name.charAt(0).toUpperCase() + name.slice(1);
  return (
    <>
      <ReasonDialog
        opened={why === 'skip'}
        title={`Leave ${name} for later`}
        text="The pass does not end while a bolt is open."
        choices={['No room for the tool', 'Support or scaffold in the way', 'Nut or bolt to be changed']}
        verb="Leave it for later"
        onClose={onClose}
        onDone={(reason) => {
          if (here) onKeep({ kind: 'skipped', pass, fastener: here, reason, hand: hand.index || undefined });
        }}
      />
      <ReasonDialog
        opened={why === 'back'}
        title={`Take back ${hand.lastKept?.name}?`}
        text="It stays on the sheet, struck through, with your reason."
        choices={['Pressed by mistake', 'It was another bolt', 'The wrench slipped']}
        verb="Take it back"
        onClose={onClose}
        onDone={(reason) => {
          if (hand.lastKept) onKeep({ kind: 'taken_back', ref: hand.lastKept.eventId, reason });
        }}
      />
      <ReasonDialog
        opened={why === 'hold'}
        title="Stop the joint"
        text="Nothing goes on until someone lifts it."
        choices={['Something moves that should not', 'Paint or dirt on the face', 'Waiting for a part']}
        verb="Hold it"
        onClose={onClose}
        onDone={(reason) => onKeep({ kind: 'held', reason })}
      />
      <ReasonDialog
        opened={why === 'loosen'}
        title={`${Name} is loosened`}
        text={
          <>
            Let it go, run the nut by hand, then bring it up through every pass.
            <MadeSure cautions={plan.cautionsAt?.loosen} gates={gates} sure={sure} onChange={setSure} />
            {here && (
              <AskedAgain
                store={run.store}
                event={{ kind: 'loosened', pass, fastener: here, reason: 'let go', hand: hand.index || undefined }}
              />
            )}
            {l && (
              <>
                <br />
                Reckon with {num(l.torqueNm, 0)} N·m. {l.feasible ? `With ${l.with}` : l.why}
                {l.feasible && l.pressure ? `, at ${num(l.pressure, 0)} ${unitText(l.unit ?? '')}` : ''}
                {l.feasible ? '.' : ''}
                {l.steps.slice(-4).map((x) => (
                  <span key={x}>
                    <br />· {x}
                  </span>
                ))}
                <Loosened key={here} hand={hand} onChange={setLet} />
              </>
            )}
          </>
        }
        choices={['Pulled too far', 'At its torque without turning', 'Set too high']}
        verb="It is loosened"
        ready={sure.length === gates.length}
        onClose={onClose}
        onDone={async (reason) => {
          await loadCore(); // it reads the figure
          figureIn(letGo.at, hand.unit); // says what is wrong with it
          const at = letGo.at.trim() ? readingOf(letGo.at, hand.unit) : undefined;
          if (here)
            onKeep({
              kind: 'loosened',
              pass,
              fastener: here,
              reason,
              ...(gates.length ? { items: gates } : {}),
              ...(letGo.with ? { method: letGo.with } : {}),
              ...(at ? { reading: at } : {}),
            });
        }}
      />
      <Drawer
        opened={tools}
        onClose={onCloseTools}
        title={`Change tools${hand.letter ? ` of ${hand.letter}` : ''}`}
        position="bottom"
        size="lg"
        transitionProps={{ duration: 0 }}
      >
        <ToolsForm
          plan={plan}
          run={run}
          group={hand.group.group}
          onTake={(taken) => {
            onKeep({ kind: 'wrench_taken', ...taken, hand: hand.index || undefined });
            onCloseTools();
          }}
        />
      </Drawer>
      <Drawer
        opened={device}
        onClose={onCloseDevice}
        title="On this device"
        position="bottom"
        size="sm"
        transitionProps={{ duration: 0 }}
      >
        <div style={{ display: 'grid', gap: 14 }}>
          {s.hands && s.hands.length > 1 && (
            <div>
              <b>This device is at tool</b>
              <SegmentedControl
                fullWidth
                size="lg"
                value={String(hand.index)}
                onChange={(v) => onHand(wholeOf(v))}
                data={s.hands.map((h, i) => ({
                  value: String(i),
                  label: `${h.letter}${h.person ? `, ${h.person}` : ''}`,
                }))}
              />
            </div>
          )}
          {(
            [
              ['sound', 'Sound when a bolt is kept'],
              ['buzz', 'Buzz when a bolt is kept'],
              ['speak', 'Say the next bolt aloud'],
              [
                'voice',
                canListen() ? 'Listen for “clicked”, “done” or “next”' : 'Listening is not possible in this browser',
              ],
              ['auto', 'Keep what a linked tool sends by itself'],
              ['leftHand', 'Left-handed: swap the halves'],
            ] as const
          ).map(([k, label]) => (
            <Checkbox
              key={k}
              size="lg"
              label={label}
              checked={prefs[k]}
              disabled={k === 'voice' && !canListen()}
              onChange={(e) => setPrefs({ ...prefs, [k]: e.currentTarget.checked })}
            />
          ))}
        </div>
      </Drawer>
    </>
  );
}

/** What a nut is loosened with; under pressure also where it let go. The tool in hand is offered only when its register entry allows it. */
function Loosened({ hand, onChange }: { hand: Hand; onChange: (l: { with: string; at: string }) => void }) {
  const head = hand.setUp?.string.find((t) => t.kind === 'hydraulic_wrench' || t.kind === 'tensioner');
  const mine = head?.tag ?? hand.tool?.tag ?? '';
  const allowed = head ? head.mayLoosen : hand.tool?.mayLoosen;
  const [v, setV] = useState({ with: allowed ? mine : 'a bar', at: '' });
  const set = (c: Partial<typeof v>) => {
    const next = { ...v, ...c };
    setV(next);
    onChange(next);
  };
  return (
    <span style={{ display: 'grid', gap: 8, marginTop: 10 }}>
      <SegmentedControl
        fullWidth
        size="md"
        aria-label="Loosened with"
        value={v.with}
        onChange={(w) => set({ with: w })}
        data={[
          { value: 'a bar', label: 'with a bar' },
          { value: mine, label: allowed ? `with ${mine}` : `never with ${mine}`, disabled: !allowed },
        ]}
      />
      {isPressure(hand.unit) && (
        <TextInput
          label={`It let go at, ${unitText(hand.unit)}`}
          inputMode="decimal"
          value={v.at}
          onChange={(e) => set({ at: e.currentTarget.value })}
        />
      )}
    </span>
  );
}
