import type { Prefs } from '../../app/prefs';

let audio: AudioContext | undefined;

function tone(freq: number, start: number, length: number) {
  audio ??= new AudioContext();
  const o = audio.createOscillator();
  const g = audio.createGain();
  o.frequency.value = freq;
  g.gain.setValueAtTime(0.25, audio.currentTime + start);
  g.gain.exponentialRampToValueAtTime(0.001, audio.currentTime + start + length);
  o.connect(g).connect(audio.destination);
  o.start(audio.currentTime + start);
  o.stop(audio.currentTime + start + length);
}

/** Tells the ear and the hand that something was kept, or that it was not right. Each can be switched off. */
export function feedback(kind: 'kept' | 'bad', prefs: Prefs) {
  if (prefs.sound) {
    try {
      if (kind === 'kept') tone(1320, 0, 0.09);
      else {
        tone(220, 0, 0.16);
        tone(196, 0.2, 0.2);
      }
    } catch {
      // No sound on this device: the drawing and the buzz still tell.
    }
  }
  if (prefs.buzz) navigator.vibrate?.(kind === 'kept' ? 20 : [60, 60, 60]);
}

export function say(text: string, prefs: Prefs) {
  if (!prefs.speak || !text || !('speechSynthesis' in globalThis)) return;
  speechSynthesis.cancel();
  speechSynthesis.speak(new SpeechSynthesisUtterance(text));
}

interface Recognizer {
  continuous: boolean;
  lang: string;
  onresult:
    | ((e: { resultIndex: number; results: { [i: number]: { [j: number]: { transcript: string } } } }) => void)
    | null;
  onend: (() => void) | null;
  start(): void;
  stop(): void;
}

/** Listens for the word that records a bolt, where the browser can. Gives a function that stops it. */
export function listen(onWord: () => void): () => void {
  const Make = (globalThis as unknown as { webkitSpeechRecognition?: new () => Recognizer }).webkitSpeechRecognition;
  if (!Make) return () => undefined;
  const r = new Make();
  let on = true;
  r.continuous = true;
  r.lang = 'en-GB';
  r.onresult = (e) => {
    const heard = e.results[e.resultIndex]?.[0]?.transcript.toLowerCase() ?? '';
    if (/\b(clicked|done|next)\b/.test(heard)) onWord();
  };
  r.onend = () => on && r.start();
  r.start();
  return () => {
    on = false;
    r.stop();
  };
}

export const canListen = () => 'webkitSpeechRecognition' in globalThis;
