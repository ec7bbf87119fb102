import { Modal } from '@mantine/core';
import { useDisclosure, useLocalStorage } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { api, must } from '../../api/client';

const kinds = [
  ['part', 'Parts'],
  ['spare', 'Spares'],
  ['supply', 'Consumables'],
  ['lubricant', 'Lubricants'],
  ['tool', 'Tools'],
] as const;

/** Everything a work package takes, added up over its joints, kind by kind; each is ticked when it is ready. */
export function PackageNeeds({ code }: { code: string }) {
  const [opened, open] = useDisclosure(false);
  const [ticked, setTicked] = useLocalStorage<string[]>({ key: `ready ${code}`, defaultValue: [] });
  const needs = useQuery({
    queryKey: ['packages', code, 'needs'],
    queryFn: () => must(api.GET('/packages/{code}/needs', { params: { path: { code } } })),
    enabled: opened,
  });
  return (
    <>
      <button type="button" className="btn plain sm" onClick={open.open}>
        What {code} takes
      </button>
      <Modal opened={opened} onClose={open.close} title={`What ${code} takes`} size="lg">
        {kinds.map(([kind, title]) => {
          const list = (needs.data ?? []).filter((n) => n.kind === kind);
          if (list.length === 0) return null;
          const got = list.filter((n) => ticked.includes(n.kind + n.what)).length;
          return (
            <table key={kind} className="t picking">
              <thead>
                <tr>
                  <th colSpan={2}>{title}</th>
                  <th className="n">Quantity</th>
                  <th>
                    For<span className="r"> {got ? `${got} of ${list.length} ready` : ''}</span>
                  </th>
                </tr>
              </thead>
              <tbody>
                {list.map((n) => {
                  const key = n.kind + n.what;
                  return (
                    <tr key={key}>
                      <td>
                        <input
                          type="checkbox"
                          aria-label={`${n.what} is ready`}
                          checked={ticked.includes(key)}
                          onChange={(e) =>
                            setTicked((old) => (e.target.checked ? [...old, key] : old.filter((t) => t !== key)))
                          }
                        />
                      </td>
                      <td>{n.what}</td>
                      <td className="n">{n.quantity || 'as needed'}</td>
                      <td className="dim">{n.joints.join(', ')}</td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          );
        })}
        <p className="dim">Ticks are kept on this device.</p>
        <button type="button" className="btn" style={{ marginTop: 10 }} onClick={() => print()}>
          Print
        </button>
      </Modal>
    </>
  );
}
