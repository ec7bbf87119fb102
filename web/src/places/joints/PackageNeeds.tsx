import { Modal } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { api, must } from '../../api/client';

/** Everything a work package takes, added up over its joints. */
export function PackageNeeds({ code }: { code: string }) {
  const [opened, open] = useDisclosure(false);
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
        <table className="t">
          <thead>
            <tr>
              <th>What</th>
              <th className="n">Quantity</th>
              <th>For</th>
            </tr>
          </thead>
          <tbody>
            {needs.data?.map((n) => (
              <tr key={n.kind + n.what}>
                <td>{n.what}</td>
                <td className="n">{n.quantity || 'as needed'}</td>
                <td className="dim">{n.joints.join(', ')}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <button type="button" className="btn" style={{ marginTop: 10 }} onClick={() => print()}>
          Print
        </button>
      </Modal>
    </>
  );
}
