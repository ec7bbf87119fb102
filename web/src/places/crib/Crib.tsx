import { Modal, TextInput } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { useQueryClient } from '@tanstack/react-query';
import { getRouteApi, Link } from '@tanstack/react-router';
import { useCrib, useTool } from '../../api/client';
import { useSession } from '../../api/session';
import './crib.css';
import { Doubts } from './Doubts';
import { Finder } from './Finder';
import { Spans } from './Spans';
import { ToolForm } from './ToolForm';
import { ToolList } from './ToolList';
import { ToolSheet } from './ToolSheet';

const route = getRouteApi('/crib');
const views = [
  ['serves', 'What serves what'],
  ['tools', 'All tools'],
  ['find', 'Find a set-up'],
  ['doubts', 'In doubt'],
] as const;

/** What the tools can serve on one scale of torque; every tool with its certificate; a set-up for a torque; joints to look at again. */
export function CribPlace() {
  const crib = useCrib();
  const search = route.useSearch();
  const navigate = route.useNavigate();
  const { may } = useSession();
  const qc = useQueryClient();
  const [fresh, add] = useDisclosure(false);
  const view = views.some(([v]) => v === search.view) ? search.view : 'serves';
  const tools = crib.data?.tools ?? [];
  const chosen =
    search.tool ??
    crib.data?.joints[0]?.with.split('+')[0] ??
    crib.data?.spans[0]?.tags.split('+')[0] ??
    tools[0]?.tool.tag;
  const detail = useTool(chosen);
  const keeper = may('putTool');
  const refresh = () => void qc.invalidateQueries({ queryKey: ['tools'] });
  const choose = (tool: string) => void navigate({ search: { ...search, tool }, replace: true });
  const wide = view === 'find' || view === 'doubts';
  return (
    <div className={`crib${wide ? ' wide' : ''}`}>
      <section className="crib-list">
        <div className="crib-views">
          {views.map(([v, name]) => (
            <button
              key={v}
              type="button"
              aria-pressed={v === view}
              onClick={() =>
                void navigate({ search: { tool: search.tool, view: v === 'serves' ? undefined : v }, replace: true })
              }
            >
              {name}
            </button>
          ))}
        </div>
        {crib.isError && <p className="wrong">{(crib.error as Error).message}</p>}
        {view === 'serves' && crib.data && <Spans crib={crib.data} chosen={chosen} onChoose={choose} />}
        {view === 'tools' && (
          <>
            <div className="row-btns" style={{ padding: '0 14px' }}>
              <TextInput
                aria-label="Search the tools"
                placeholder="tag, kind, size, who has it"
                value={search.q ?? ''}
                onChange={(e) =>
                  void navigate({ search: { ...search, q: e.currentTarget.value || undefined }, replace: true })
                }
              />
              {keeper && (
                <button type="button" className="btn sm" onClick={add.open}>
                  Enter a tool
                </button>
              )}
              <Link className="btn sm" to="/labels" search={{ of: 'tools' }}>
                Labels
              </Link>
              <a className="btn sm" href="/api/export/tools.xlsx" download="tools.xlsx">
                Spreadsheet
              </a>
              {keeper && (
                <Link className="btn sm" to="/crib/import">
                  Import
                </Link>
              )}
            </div>
            <ToolList tools={tools} q={search.q ?? ''} chosen={chosen} onChoose={choose} />
          </>
        )}
        {view === 'find' && <Finder onChoose={(tool) => void navigate({ search: { tool, view: 'tools' } })} />}
        {view === 'doubts' && <Doubts keeper={may('closeDoubt')} />}
      </section>
      {!wide && detail.data && (
        <ToolSheet detail={detail.data} keeper={keeper} engineer={may('issueDeviceToken')} onChanged={refresh} />
      )}
      <Modal opened={fresh} onClose={add.close} title="Enter a tool" size="xl">
        <ToolForm
          onDone={(tag) => {
            add.close();
            refresh();
            void navigate({ search: { tool: tag, view: 'tools' } });
          }}
        />
      </Modal>
    </div>
  );
}
