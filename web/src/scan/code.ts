/** What a code on a label says. */
export type Code =
  | { kind: 'joint'; tag: string }
  | { kind: 'record'; number: string }
  | { kind: 'tin'; lubricant: string; batch: string; useBy: string }
  | { kind: 'person'; id: string }
  | { kind: 'text'; text: string } // the tag of a tool, or whatever else somebody printed
  | { kind: 'foreign'; host: string }; // leads to another site

/** Reads a code. host is where this page comes from: the same paths at another host belong to another site. */
export function readCode(scanned: string, host: string): Code {
  const text = scanned.trim();
  const record = /^DYNACOR (\S+) [0-9a-f]+$/i.exec(text);
  if (record?.[1]) return { kind: 'record', number: record[1] };
  if (!/^(https?:|dynacor:)/i.test(text) || !URL.canParse(text)) return { kind: 'text', text };
  const url = new URL(text);
  const joint = /^\/joints\/([^/]+)$/.exec(url.pathname)?.[1];
  const person = url.searchParams.get('person');
  const lubricant = url.searchParams.get('lubricant');
  let code: Code | undefined;
  if (joint) code = { kind: 'joint', tag: decodeURIComponent(joint) };
  else if (url.pathname === '/scan' && person) code = { kind: 'person', id: person };
  else if (url.pathname === '/scan' && lubricant)
    code = {
      kind: 'tin',
      lubricant,
      batch: url.searchParams.get('batch') ?? '',
      useBy: url.searchParams.get('useBy') ?? '',
    };
  if (!code) return { kind: 'text', text };
  return url.protocol === 'dynacor:' || url.host === host ? code : { kind: 'foreign', host: url.host };
}
