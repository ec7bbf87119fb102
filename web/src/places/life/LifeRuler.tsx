import { useElementSize } from '@mantine/hooks';
import { type KeyboardEvent, useRef } from 'react';
import type { Life, LifeMark } from '../../api/client';
import { when } from '../../kit/numbers';
import { MarkShape } from './LifeMark';
import { apart, rulerOf } from './ruler';

interface Props {
  life: Life;
  family: string;
  count: number;
  chosen: LifeMark | undefined;
  runs: string[]; // those that are compared
  now: number;
  onChoose: (m: LifeMark) => void;
}

const time = (text: string) => new Date(text).getTime();

/** Everything that happened to a joint, a lane each, on one ruler. Arrows go from mark to mark in the order of time. */
export function LifeRuler({ life, family, count, chosen, runs, now, onChoose }: Props) {
  const { ref, width } = useElementSize();
  const box = useRef<HTMLDivElement>(null);
  const moments = life.marks.flatMap((m) => [time(m.at), m.until ? time(m.until) : time(m.at)]);
  const ruler = rulerOf([...moments, now], width);
  function go(e: KeyboardEvent) {
    const step = e.key === 'ArrowRight' ? 1 : e.key === 'ArrowLeft' ? -1 : 0;
    if (!step) return;
    const all = [...(box.current?.querySelectorAll<HTMLButtonElement>('button[data-at]') ?? [])].sort(
      (a, b) => time(a.dataset.at ?? '') - time(b.dataset.at ?? ''),
    );
    const next = all[all.indexOf(document.activeElement as HTMLButtonElement) + step];
    if (next) {
      e.preventDefault();
      next.focus();
    }
  }
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the arrows lead from button to button inside it
    <div className="life-ruler" ref={box} onKeyDown={go}>
      <div className="lane head">
        <span />
        <div className="line" ref={ref}>
          {ruler.ticks.map((t) => (
            <span key={t.at} className={t.strong ? 'tick strong' : 'tick'} style={{ left: ruler.x(t.at) }}>
              {t.text}
            </span>
          ))}
        </div>
      </div>
      {life.lanes.map((lane) => {
        const marks = life.marks.filter((m) => m.lane === lane.lane);
        const places = marks.map((m) => ruler.x(time(m.at)));
        const xs = lane.lane === 'plan' ? places : apart(places, 36, width);
        return (
          <div className="lane" key={lane.lane}>
            <span className="name">{lane.name}</span>
            <div className="line">
              {ruler.ticks.map((t) => (
                <i key={t.at} style={{ left: ruler.x(t.at) }} />
              ))}
              {marks.map((m, i) => {
                const x = xs[i] ?? 0;
                const bar = m.lane === 'plan';
                const end = ruler.x(m.until ? time(m.until) : now);
                return (
                  <button
                    key={`${m.at}${m.kind}${m.title}`}
                    type="button"
                    data-at={m.at}
                    className={`mark${bar ? ` bar f${i % 3}` : ''}${runs.includes(m.run ?? '') && m.lane === 'run' ? ' compared' : ''}`}
                    aria-pressed={m === chosen}
                    aria-label={`${lane.name}, ${when(m.at)}: ${m.title}. ${m.text}`}
                    title={m.title}
                    style={bar ? { left: x, width: Math.max(10, end - x) } : { left: x }}
                    onClick={() => onChoose(m)}
                  >
                    {bar ? (
                      end - x > m.title.length * 8 + 16 && <span>{m.title}</span>
                    ) : (
                      <MarkShape mark={m} family={family} count={count} />
                    )}
                  </button>
                );
              })}
            </div>
          </div>
        );
      })}
    </div>
  );
}
