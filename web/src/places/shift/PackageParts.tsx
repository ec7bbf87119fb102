import { Select } from '@mantine/core';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { api, must, usePackages } from '../../api/client';

/** The work packages that make up a shutdown: their joints are planned and counted as its own. */
export function PackageParts({ code, may }: { code: string; may: boolean }) {
  const packages = usePackages();
  const qc = useQueryClient();
  const list = packages.data ?? [];
  const own = list.find((p) => p.code === code);
  const parts = list.filter((p) => p.partOf === code);
  const put = useMutation({
    mutationFn: (x: { part: (typeof list)[number]; partOf: string }) =>
      must(
        api.PUT('/packages/{code}', {
          params: { path: { code: x.part.code } },
          body: { name: x.part.name, partOf: x.partOf },
        }),
      ),
    onSuccess: () => qc.invalidateQueries(),
  });
  const free = list.filter((p) => p.code !== code && !p.partOf && !list.some((o) => o.partOf === p.code));
  if (!own) return <section />;
  return (
    <section>
      <h2 className="rule">Work packages in it</h2>
      {own.partOf ? (
        <p className="dim">
          {code} is part of {own.partOf}, which plans its joints with those of others.
        </p>
      ) : (
        <p className="dim">
          {parts.length === 0
            ? 'None beside itself. A shutdown holds several: their joints are planned and counted with its own.'
            : 'Their joints are planned and counted here as its own.'}
        </p>
      )}
      <ul className="held-list">
        {parts.map((p) => (
          <li key={p.code}>
            <span>
              <b>{p.code}</b> {p.name}
              <small>
                {p.joints} joints, {p.accepted} accepted
              </small>
            </span>
            {may && (
              <button
                type="button"
                className="btn sm"
                disabled={put.isPending}
                onClick={() => put.mutate({ part: p, partOf: '' })}
              >
                Take out {p.code}
              </button>
            )}
          </li>
        ))}
      </ul>
      {put.error && (
        <p className="wrong" role="alert">
          {put.error.message}
        </p>
      )}
      {may && !own.partOf && free.length > 0 && (
        <Select
          label="Take a work package in"
          placeholder="which"
          value={null}
          onChange={(v) => {
            const part = free.find((p) => p.code === v);
            if (part) put.mutate({ part, partOf: code });
          }}
          data={free.map((p) => ({ value: p.code, label: `${p.code} ${p.name}` }))}
          searchable
        />
      )}
    </section>
  );
}
