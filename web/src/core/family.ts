import { useQuery } from '@tanstack/react-query';
import type { Family, Layout } from '../api/client';
import type { Place } from '../rosette/geometry';
import { loadCalc } from './calc';

/** What a form of a procedure needs is loaded with the catalogue; true once it is there. */
export const useFamilyCore = () =>
  useQuery({
    queryKey: ['family-core'],
    queryFn: async () => {
      await loadCalc();
      return true;
    },
    staleTime: Number.POSITIVE_INFINITY,
    networkMode: 'always',
  }).data === true;

/** A procedure as it is for the answers given: what belongs to another variant is left out. */
export function resolve(
  family: Family,
  variant: Record<string, string>,
  figures: Record<string, number>,
): { family: Family; answers: Record<string, string> } {
  const core = globalThis.dynacorCalc;
  if (!core) return { family, answers: variant };
  const res = JSON.parse(core.family(JSON.stringify(family), JSON.stringify(variant), JSON.stringify(figures))) as {
    family?: Family;
    answers?: Record<string, string>;
  };
  return { family: res.family ?? family, answers: res.answers ?? variant };
}

/** Where the fasteners of a layout are, or what is wrong with it. */
export function placesOf(layout: Layout): { layout: Layout; places: Place[]; error?: string } {
  const core = globalThis.dynacorCalc;
  if (!core) return { layout, places: [] };
  const res = JSON.parse(core.places(JSON.stringify(layout))) as { layout: Layout; places?: Place[]; error?: string };
  return { layout: res.layout ?? layout, places: res.places ?? [], ...(res.error ? { error: res.error } : {}) };
}
