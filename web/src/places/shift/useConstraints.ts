import { useMutation, useQueryClient } from '@tanstack/react-query';
import { api, type Constraints, must } from '../../api/client';

/** The question for what holds for a work package. */
export const constraintsOf = (code: string | undefined) => ({
  queryKey: ['constraints', code],
  queryFn: () => must(api.GET('/packages/{code}/constraints', { params: { path: { code: code ?? '' } } })),
  enabled: !!code,
});

/** Puts other constraints down after the version that was looked at, or undoes the last change; the plan is then asked for anew. */
export function useChangeConstraints(code: string | undefined, version = 0, onDone?: () => void) {
  const qc = useQueryClient();
  return useMutation({
    mutationFn: (next: Constraints | 'undo') => {
      const params = { path: { code: code ?? '' }, query: { after: version } };
      return must(
        next === 'undo'
          ? api.POST('/packages/{code}/constraints/undo', { params })
          : api.PUT('/packages/{code}/constraints', { params, body: next }),
      );
    },
    onSuccess: async (got) => {
      qc.setQueryData(['constraints', code], got);
      await Promise.all(['shift', 'shift stands'].map((key) => qc.invalidateQueries({ queryKey: [key, code] })));
      onDone?.();
    },
  });
}
