import type { AuditRow } from '../api/client';
import { when } from './numbers';

type Fields = Record<string, unknown>;

const parsed = (text: unknown): unknown => {
  if (typeof text !== 'string' || !/^[[{]/.test(text)) return text;
  try {
    return JSON.parse(text);
  } catch {
    return text; // cut where it was too long to keep
  }
};

const fieldsOf = (v: unknown): Fields | undefined =>
  typeof v === 'object' && v && !Array.isArray(v) ? (v as Fields) : undefined;

/** Names of the program in words. */
const plain = (text: string) => text.replace(/\b[a-z]+(?:_[a-z0-9]+)+\b/g, (m) => m.replaceAll('_', ' '));

/** What a line says, field by field; a field that holds fields of its own is opened. */
function flat(text: string): Fields {
  const v = parsed(text);
  const one = Array.isArray(v) && v.length === 1 ? v[0] : v;
  const top = fieldsOf(one);
  if (!top) return text ? { '': Array.isArray(v) ? `${v.length} rows` : text } : {};
  const out: Fields = {};
  for (const [k, x] of Object.entries(top)) {
    const inner = fieldsOf(parsed(x));
    if (inner) Object.assign(out, inner);
    else out[k] = x;
  }
  return out;
}

const most = 12;

/** The fields that differ from the other side, in words. */
function Change({ text, other }: { text: string; other: string }) {
  const mine = flat(text);
  const theirs = flat(other);
  const keys = Object.keys(mine).filter(
    (k) => JSON.stringify(mine[k]) !== JSON.stringify(theirs[k]) && mine[k] !== '' && mine[k] !== null,
  );
  return (
    <>
      {keys.slice(0, most).map((k) => {
        const v = typeof mine[k] === 'string' ? (mine[k] as string) : JSON.stringify(mine[k]);
        return (
          <div key={k}>
            {k && <span className="dim">{k.replace(/_/g, ' ')} </span>}
            {plain(v.length > 120 ? `${v.slice(0, 119)}…` : v)}
          </div>
        );
      })}
      {keys.length > most && <div className="dim">and {keys.length - most} more</div>}
    </>
  );
}

/** Lines of the audit log: who changed what, with what stood there before and after. */
export function AuditTable({ rows }: { rows: AuditRow[] }) {
  return (
    <table className="t audit" style={{ marginTop: 8 }}>
      <thead>
        <tr>
          <th>When</th>
          <th>Who</th>
          <th>What</th>
          <th>Before</th>
          <th>After</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((r) => (
          <tr key={r.id}>
            <td className="m">{when(r.at)}</td>
            <td>{r.who}</td>
            <td>
              <b>{plain(r.action)}</b>
              <br />
              {plain(r.subject)}
            </td>
            <td className="change">
              <Change text={r.before} other={r.after} />
            </td>
            <td className="change">
              <Change text={r.after} other={r.before} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
