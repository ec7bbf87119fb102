const apart = 35; // ms between two keys of a scanner at most; nobody types like that
const least = 4; // characters of a code

type Field = HTMLInputElement | HTMLTextAreaElement;

const editable = (e: EventTarget | null): e is HTMLElement =>
  e instanceof HTMLElement && (e.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(e.tagName));

const field = (e: EventTarget | null): Field | undefined =>
  e instanceof HTMLInputElement || e instanceof HTMLTextAreaElement ? e : undefined;

/** Puts a value back as React sees it. */
function putBack(f: Field, value: string) {
  const proto = f instanceof HTMLInputElement ? HTMLInputElement.prototype : HTMLTextAreaElement.prototype;
  Object.getOwnPropertyDescriptor(proto, 'value')?.set?.call(f, value);
  f.dispatchEvent(new Event('input', { bubbles: true }));
}

/**
 * Listens for a scanner that types what it reads and ends with Enter. Its keys are told from a person's by their speed.
 * Outside a field they are held back until it is sure that they are no scan, so that none of them acts as a key of the
 * page; inside one they stand there, and what stood before is put back when the code was for somebody else. take says
 * whether a code was for somebody.
 */
export function listenToScanners(take: (text: string, inField: boolean) => boolean): () => void {
  let text = '';
  let last = Number.NEGATIVE_INFINITY;
  let held: KeyboardEvent[] = [];
  let into: { field: Field; before: string } | undefined;
  let timer = 0;
  const again = new WeakSet<Event>(); // held back once

  const letGo = () => {
    const list = held;
    held = [];
    for (const e of list) {
      const copy = new KeyboardEvent(e.type, e);
      again.add(copy);
      (e.target ?? document).dispatchEvent(copy);
    }
  };
  const start = (e: KeyboardEvent) => {
    text = '';
    const f = field(e.target);
    into = f && { field: f, before: f.value };
  };
  const down = (e: KeyboardEvent) => {
    if (again.has(e) || e.ctrlKey || e.altKey || e.metaKey || e.key === 'Shift' || e.isComposing) return;
    clearTimeout(timer);
    if (e.timeStamp - last > apart) {
      letGo();
      start(e);
    }
    last = e.timeStamp;
    if (e.key === 'Enter' && text.length >= least && take(text, editable(e.target))) {
      e.preventDefault();
      e.stopImmediatePropagation();
      held = [];
      if (into) putBack(into.field, into.before);
      text = '';
      return;
    }
    if (e.key.length !== 1) {
      letGo();
      text = '';
      return;
    }
    text += e.key;
    if (editable(e.target) || text === ' ') return; // a space alone presses what has the focus
    e.stopImmediatePropagation();
    if (" /'".includes(e.key)) e.preventDefault(); // some browsers open their own search
    held.push(e);
    timer = window.setTimeout(letGo, apart);
  };
  window.addEventListener('keydown', down, true);
  return () => {
    clearTimeout(timer);
    window.removeEventListener('keydown', down, true);
  };
}
