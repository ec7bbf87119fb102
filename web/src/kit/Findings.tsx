import type { Finding } from '../api/client';

const words: Record<string, string> = { info: 'To know', caution: 'Mind', stop: 'Stop' };

/** Judgements: what, why, and what to do. The word carries the weight as well as the stripe. */
export function Findings({ list }: { list: Finding[] }) {
  return (
    <>
      {list.map((f) => (
        <div key={f.code + f.what} className={`finding ${f.severity}`}>
          <b>
            {words[f.severity]}: {f.what}
          </b>
          {f.why && <span>{f.why} </span>}
          {f.remedy && <span>{f.remedy}</span>}
        </div>
      ))}
    </>
  );
}
