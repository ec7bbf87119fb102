import type { useNavigate } from '@tanstack/react-router';
import { api, must } from '../api/client';
import type { Code } from './code';

type Navigate = ReturnType<typeof useNavigate>;

/** Goes to what a code names: tools, joints and records by what stands on them, else to the register to look for it. */
export async function follow(code: Code, navigate: Navigate): Promise<unknown> {
  if (code.kind === 'joint') return navigate({ to: '/joints/$tag', params: { tag: code.tag } });
  if (code.kind === 'record') return navigate({ to: '/records/$number', params: { number: code.number } });
  if (code.kind === 'person') return navigate({ to: '/scan', search: { person: code.id } });
  if (code.kind === 'tin') {
    const { kind: _, ...tin } = code;
    return navigate({ to: '/scan', search: tin });
  }
  if (code.kind === 'foreign') return navigate({ to: '/scan', search: { host: code.host } });
  return navigate(await named(code.text).catch(() => register(code.text)));
}

const register = (q: string) => ({ to: '/joints', search: { q } }) as const;

/** The place of a tool, a joint or a record by what stands on it, else the register, to look for it. */
async function named(tag: string) {
  const crib = await must(api.GET('/crib'));
  const same = (s: string) => s.toLowerCase() === tag.toLowerCase();
  const tool = crib.tools.find((t) => same(t.tool.tag));
  if (tool) return { to: '/crib', search: { tool: tool.tool.tag } } as const;
  const joints = await must(api.GET('/joints', { params: { query: { q: tag, limit: 12 } } }));
  const joint = joints.rows.find((j) => same(j.tag));
  if (joint) return { to: '/joints/$tag', params: { tag: joint.tag } } as const;
  const records = await must(api.GET('/records', { params: { query: { q: tag, limit: 5 } } }));
  const record = records.rows.find((r) => same(r.number));
  if (record) return { to: '/records/$number', params: { number: record.number } } as const;
  return register(tag);
}
