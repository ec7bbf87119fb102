import {
  createContext,
  type KeyboardEvent,
  type MouseEvent,
  type RefObject,
  useCallback,
  useContext,
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
} from 'react';

/** How long a new question takes no answer, ms: a key or a finger that was meant for the one before is not an answer to this one. */
export const settleMs = 400;

/** How long an answer may take to be kept before the question that follows it no longer takes the focus, ms. */
const focusWithin = 10_000;

let answeredAt = Number.NEGATIVE_INFINITY;

/** Says that a person has just answered: the next question that appears takes the focus. */
export function answerGiven() {
  answeredAt = performance.now();
}

/** Lets the forms of a question say that they are still at work on an answer, a photo for example. */
export const HoldContext = createContext<(work: Promise<unknown>) => void>(() => undefined);
export const useHold = () => useContext(HoldContext);

/** Says that a press came too early to be an answer, for whoever wants to show or repeat it. */
export const notTaken = () => dispatchEvent(new CustomEvent('dynacor:not-taken'));

interface Question {
  /** Put on the element around the question: it swallows answers until the question has stood for a moment. */
  guard: {
    'data-settling': true | undefined;
    onMouseDownCapture: (e: MouseEvent) => void; // it would take the focus from the heading
    onClickCapture: (e: MouseEvent) => void;
    onKeyDownCapture: (e: KeyboardEvent) => void;
  };
  /** Put on its heading, which takes the focus after the answer before. */
  heading: RefObject<HTMLHeadingElement | null>;
  /** Whether it takes answers yet; for keys that are heard on the whole page. */
  settled: () => boolean;
  /** Takes no other answer until this one is kept, and for a moment after it. */
  hold: (work: Promise<unknown>) => void;
}

/**
 * Guards one question. `key` names it: when it changes, what is asked has changed under the hand, and for `settleMs` nothing
 * answers it.
 */
export function useQuestion(key: string): Question {
  const heading = useRef<HTMLHeadingElement>(null);
  const asked = useRef<string>(undefined);
  const since = useRef(0);
  const keeping = useRef(0);
  const [turn, setTurn] = useState(0);
  const [settledKey, setSettledKey] = useState<string>();
  const full = `${key}#${turn}`;
  if (asked.current !== full) {
    asked.current = full;
    since.current = performance.now();
  }
  // biome-ignore lint/correctness/useExhaustiveDependencies: another key is another question
  useLayoutEffect(() => {
    if (!heading.current || performance.now() - answeredAt > focusWithin) return;
    answeredAt = Number.NEGATIVE_INFINITY;
    heading.current.focus();
  }, [key]);
  useEffect(() => {
    const t = setTimeout(() => setSettledKey(full), settleMs);
    return () => clearTimeout(t);
  }, [full]);
  const settled = useCallback(() => keeping.current === 0 && performance.now() - since.current >= settleMs, []);
  // The next question may be shorter: a press that falls beside it must not take the focus from its heading either.
  useEffect(() => {
    const keep = (e: globalThis.MouseEvent) => {
      if (!settled()) e.preventDefault();
    };
    document.addEventListener('mousedown', keep, true);
    return () => document.removeEventListener('mousedown', keep, true);
  }, [settled]);
  const hold = useCallback((work: Promise<unknown>) => {
    const begin = () => {
      since.current = performance.now();
      setTurn((n) => n + 1);
    };
    const end = () => {
      keeping.current--;
      begin();
    };
    keeping.current++;
    begin();
    work.then(end, end);
  }, []);
  const swallowUnsettled = (e: MouseEvent | KeyboardEvent) => {
    if (settled()) return;
    e.preventDefault();
    e.stopPropagation();
    notTaken();
  };
  return {
    heading,
    settled,
    hold,
    guard: {
      'data-settling': settledKey === full && keeping.current === 0 ? undefined : true,
      onMouseDownCapture: swallowUnsettled,
      onClickCapture: swallowUnsettled,
      onKeyDownCapture: (e) => {
        if (e.key === 'Enter' || e.key === ' ') swallowUnsettled(e);
      },
    },
  };
}
