import { Modal } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { api, must } from '../../api/client';
import { AuditTable } from '../../kit/AuditTable';

/** What was changed of a joint and by whom: its names, places, packages and specifications. */
export function HistoryDialog({ tag, onClose }: { tag: string; onClose: () => void }) {
  const list = useQuery({
    queryKey: ['joint', tag, 'history'],
    queryFn: () => must(api.GET('/joints/{tag}/history', { params: { path: { tag } } })),
  });
  return (
    <Modal opened onClose={onClose} title={`${tag}: what was changed`} size="xl">
      {list.isError && (
        <p className="wrong" role="alert">
          {(list.error as Error).message}
        </p>
      )}
      {list.data?.length === 0 && <p className="empty">Nothing was changed since it was entered.</p>}
      {list.data && list.data.length > 0 && (
        <div style={{ overflowX: 'auto' }}>
          <AuditTable rows={list.data} />
        </div>
      )}
    </Modal>
  );
}
