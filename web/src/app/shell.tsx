import { useHotkeys } from '@mantine/hooks';
import { Link, Outlet, useNavigate, useRouterState } from '@tanstack/react-router';
import { lazy, type ReactNode, Suspense, useEffect, useRef, useState } from 'react';
import { useSync } from '../api/device';
import { useLooks } from '../api/looks';
import { useSession } from '../api/session';
import { Patterns } from '../rosette/Patterns';
import { follow } from '../scan/follow';
import { openScan, scanned, serveScans } from '../scan/takers';
import { listenToScanners } from '../scan/wedge';
import { BookChip } from './BookChip';
import { Consent } from './Consent';
import { nextLook, useLook } from './looks';
import { SignInPage } from './signin';

// What opens over the page is fetched once the page stands.
const find = () => import('./find');
const Find = lazy(() => find().then((m) => ({ default: m.Find })));
const openFind = () => void find().then((m) => m.openFind());
const KeyList = lazy(() => import('./keys').then((m) => ({ default: m.KeyList })));
const ScanDialog = lazy(() => import('../scan/ScanDialog').then((m) => ({ default: m.ScanDialog })));
const ChangeHands = lazy(() => import('./hands').then((m) => ({ default: m.ChangeHands })));

const places = [
  ['Today', '/'],
  ['Shift', '/shift'],
  ['Joints', '/joints'],
  ['Crib', '/crib'],
  ['Bench', '/bench'],
  ['Lab', '/lab'],
  ['Library', '/library'],
  ['Records', '/records'],
] as const;

function Mark() {
  return (
    <svg width="24" height="24" viewBox="-12 -12 24 24" aria-hidden="true">
      <path d="M3.98 -2.3V2.3L0 4.6L-3.98 2.3V-2.3L0 -4.6Z" style={{ fill: 'var(--ink)' }} />
      <path
        d="M0 -6.6V-11.2M5.7 3.3L9.7 5.6M0 6.6V11.2M-5.7 3.3L-9.7 5.6M-5.7 -3.3L-9.7 -5.6"
        style={{ stroke: 'var(--ink)', strokeWidth: 2.6 }}
      />
      <path d="M5.7 -3.3L7.45 -4.3" style={{ stroke: 'var(--now)', strokeWidth: 2.6 }} />
    </svg>
  );
}

/** A span as people say it: 3 h, 12 min. */
const spanText = (ms: number) =>
  ms >= 172_800_000
    ? `${Math.round(ms / 86_400_000)} days`
    : ms >= 5_400_000
      ? `${Math.round(ms / 3_600_000)} h`
      : `${Math.round(ms / 60_000)} min`;

/** Tells the truth about what has left this device. */
export function SyncChip() {
  const s = useSync();
  const unsigned = useLooks().length;
  const here = s.waiting + unsigned;
  const quiet = here === 0 && s.refused === 0 && !s.clockOff;
  const at = s.since ? new Date(s.since).toTimeString().slice(0, 5) : '';
  const text =
    s.refused > 0
      ? `${s.refused} not taken, look`
      : s.since
        ? here > 0
          ? `${here} kept here, no signal since ${at}`
          : `no signal since ${at}`
        : s.waiting > 0
          ? s.wants
            ? `${s.waiting} waiting. ${s.wants}`
            : `${s.waiting} waiting to send`
          : unsigned > 0
            ? `${unsigned} to sign`
            : s.clockOff
              ? `clock ${spanText(Math.abs(s.clockOff))} ${s.clockOff > 0 ? 'fast' : 'slow'}: set it right`
              : 'all kept';
  return (
    <div className="chip" role="status" data-testid="sync">
      <svg width="16" height="16" viewBox="-8 -8 16 16" aria-hidden="true" style={{ flex: 'none' }}>
        {quiet && !s.since ? (
          <>
            <circle r="6.5" style={{ fill: 'none', stroke: 'var(--ok)', strokeWidth: 1.6 }} />
            <path d="M-3.2 .2L-.8 2.8L3.6 -2.6" style={{ fill: 'none', stroke: 'var(--ok)', strokeWidth: 1.8 }} />
          </>
        ) : (
          <>
            <circle
              r="6.5"
              style={{ fill: 'none', stroke: 'var(--hold-ink)', strokeWidth: 1.6, strokeDasharray: '3 2.4' }}
            />
            <path
              d="M0 3.5V-3.2M-3 -.4L0 -3.4L3 -.4"
              style={{ fill: 'none', stroke: 'var(--hold-ink)', strokeWidth: 1.8 }}
            />
          </>
        )}
      </svg>
      <span className={quiet && !s.since ? '' : 'hld'}>{text}</span>
    </div>
  );
}

export function Shell() {
  const { person, loading } = useSession();
  const [hands, setHands] = useState(false);
  const [keys, setKeys] = useState(false);
  const [scan, setScan] = useState(false);
  const navigate = useNavigate();
  useEffect(() => {
    serveScans(
      (code) => void follow(code, navigate),
      () => setScan(true),
    );
    return listenToScanners((text, inField) => scanned(text, !inField));
  }, [navigate]);
  const path = useRouterState({ select: (s) => s.location.pathname });
  const look = useLook();
  const go = useRef(0);
  const jump = (to: string) => () => {
    if (Date.now() - go.current < 1200) void navigate({ to });
  };
  useHotkeys([
    ['d', nextLook],
    ['shift+?', () => setKeys(true)],
    ['/', openFind],
    ['x', openScan],
    ['g', () => (go.current = Date.now())],
    ['t', jump('/')],
    ['j', jump('/joints')],
    ['c', jump('/crib')],
    ['b', jump('/bench')],
    ['i', jump('/library')],
    ['r', jump('/records')],
    ['p', jump('/shift')],
  ]);
  useEffect(() => {
    const place = places.find(([, to]) => (to === '/' ? path === '/' : path.startsWith(to)))?.[0];
    document.title = place ? `${place} · Dynacor` : 'Dynacor';
  }, [path]);
  const open = path === '/verify' || path === '/keys';
  let body: ReactNode = <Outlet />;
  if (loading) body = <p className="empty">One moment.</p>;
  else if (!person && !open) body = <SignInPage />;
  return (
    <div className="app">
      <Patterns />
      <Consent />
      <header className="bar">
        <Link to="/" className="wm" aria-label="Dynacor, today">
          <Mark />
          <span>DYNACOR</span>
        </Link>
        {person && (
          <nav aria-label="Places">
            {places.map(([name, to]) => (
              <Link key={to} to={to} activeOptions={{ exact: to === '/' }}>
                {name}
              </Link>
            ))}
          </nav>
        )}
        <div className="sp" />
        {person && (
          <>
            <button type="button" className="find" onClick={openFind}>
              <svg width="15" height="15" viewBox="0 0 15 15" aria-hidden="true">
                <circle cx="6" cy="6" r="4.6" style={{ fill: 'none', stroke: 'var(--ink-2)', strokeWidth: 1.6 }} />
                <path d="M9.4 9.4L14 14" style={{ stroke: 'var(--ink-2)', strokeWidth: 1.8 }} />
              </svg>
              <span>Find or do</span>
              <kbd>Ctrl K</kbd>
            </button>
            <button type="button" className="scan" onClick={openScan} aria-label="Scan a code" title="Scan a code (X)">
              <svg width="20" height="20" viewBox="-10 -10 20 20" aria-hidden="true">
                <path d="M-8 -4V-8H-4M4 -8H8V-4M8 4V8H4M-4 8H-8V4M-4 -4.5V4.5M-1.4 -4.5V4.5M1.2 -4.5V4.5M4 -4.5V4.5" />
              </svg>
            </button>
            <BookChip />
            <SyncChip />
          </>
        )}
        <button type="button" className="look" onClick={nextLook} title="Day, glare, night (D)">
          {look === 'day' ? 'Day' : look === 'glare' ? 'Glare' : 'Night'}
        </button>
        {person && (
          <button
            type="button"
            className="who"
            onClick={() => setHands(true)}
            aria-label={`${person.name}, ${person.role}. Change hands`}
          >
            <svg width="15" height="15" viewBox="0 0 15 15" aria-hidden="true">
              <circle cx="7.5" cy="4.4" r="3.2" style={{ fill: 'none', stroke: 'currentColor', strokeWidth: 1.5 }} />
              <path
                d="M1.5 14C2 9.6 13 9.6 13.5 14"
                style={{ fill: 'none', stroke: 'currentColor', strokeWidth: 1.5 }}
              />
            </svg>
            <span>{person.name}</span>
          </button>
        )}
      </header>
      <main className="places">
        <Suspense fallback={<p className="empty">One moment.</p>}>{body}</Suspense>
      </main>
      <Suspense>
        {person && <Find />}
        {hands && <ChangeHands opened onClose={() => setHands(false)} />}
        {scan && <ScanDialog onClose={() => setScan(false)} />}
        {keys && <KeyList opened onClose={() => setKeys(false)} />}
      </Suspense>
    </div>
  );
}
