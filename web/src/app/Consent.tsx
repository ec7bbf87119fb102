import { lazy, Suspense, useEffect, useState } from 'react';
import { type ConsentAsked, onConsent } from '../api/consent';

const ConsentDialog = lazy(() => import('./ConsentDialog').then((m) => ({ default: m.ConsentDialog })));

/** Asks for the name and PIN of somebody with authority when the server wants them before it does a thing. */
export function Consent() {
  const [asked, setAsked] = useState<ConsentAsked>();
  useEffect(() => {
    onConsent(setAsked);
    return () => onConsent(undefined);
  }, []);
  return <Suspense>{asked && <ConsentDialog asked={asked} onDone={() => setAsked(undefined)} />}</Suspense>;
}
