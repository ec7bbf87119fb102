import { getRouteApi, Link } from '@tanstack/react-router';
import { useSession } from '../../api/session';
import { People } from './People';
import { PlantEditor } from './PlantEditor';
import { Running } from './Running';
import './site.css';

const route = getRouteApi('/site');
const views = [
  ['people', 'People'],
  ['plant', 'Site and plant line'],
  ['running', 'Devices and backups'],
] as const;

/** Behind the name at the top, for an administrator: who is here, and what the site is called and looks like. */
export function SitePlace() {
  const { may } = useSession();
  const search = route.useSearch();
  const view = views.find(([code]) => code === search.view)?.[0] ?? 'people';
  if (!may('getCrew')) return <p className="empty">An administrator keeps people and site.</p>;
  return (
    <div className="site">
      <nav className="tabs" aria-label="People and site">
        {views.map(([code, word]) => (
          <Link
            key={code}
            to="/site"
            search={{ view: code }}
            className={view === code ? 'on' : ''}
            aria-current={view === code ? 'page' : undefined}
          >
            {word}
          </Link>
        ))}
        <Link to="/keys">Keys and seals</Link>
        <Link to="/audit">Trail</Link>
        <a href="/contract.html" target="_blank" rel="noreferrer">
          Interface for programs
        </a>
      </nav>
      {view === 'people' && <People chosen={search.person} />}
      {view === 'plant' && <PlantEditor />}
      {view === 'running' && <Running />}
    </div>
  );
}
