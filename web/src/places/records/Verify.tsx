import { useState } from 'react';
import { api, must, type Verification } from '../../api/client';
import { useSession } from '../../api/session';
import { Additions } from './Additions';
import { TakeIn } from './TakeIn';
import './records.css';

type Report = Verification['report'];

/** Says whether a record holds, what was checked, and what was changed. */
export function ReportView({ report: r }: { report: Report }) {
  return (
    <div data-testid="report" className={r.ok ? 'finding' : 'finding stop'} style={{ fontSize: 16 }}>
      <b style={{ font: '700 26px/1.1 var(--cond)', color: r.ok ? 'var(--ok)' : 'var(--rej)' }}>
        {r.ok ? 'The record holds' : 'The record does not hold'}
      </b>
      {r.number && (
        <div>
          <span className="m">{r.number}</span> {r.joint}, key <span className="m">{r.keyId}</span>
          {r.keyKnown ? ', one of this site’s' : ', not one of this site’s'}
        </div>
      )}
      <ul>
        {r.problems.map((p) => (
          <li key={p} style={{ fontWeight: 600 }}>
            Wrong: {p}
          </li>
        ))}
        {r.checked.map((c) => (
          <li key={c} className="dim">
            Checked: {c}
          </li>
        ))}
      </ul>
    </div>
  );
}

/** Checks a sealed file that somebody brought. Open to everybody; needs no sign-in. */
export function VerifyPage() {
  const [result, setResult] = useState<Verification>();
  const [name, setName] = useState('');
  const [wrong, setWrong] = useState('');
  const [file, setFile] = useState<File>();
  const { may } = useSession();
  async function check(f: File) {
    setName(f.name);
    setFile(f);
    setWrong('');
    setResult(undefined);
    try {
      setResult(
        await must(
          api.POST('/verify', {
            body: f as unknown as string,
            bodySerializer: (b) => b as unknown as Blob,
            headers: { 'Content-Type': 'application/octet-stream' },
          }),
        ),
      );
    } catch (e) {
      setWrong((e as Error).message);
    }
  }
  return (
    <div className="page" style={{ maxWidth: 900 }}>
      <h1 className="title">Verify a record</h1>
      <p style={{ fontSize: 17, margin: '8px 0' }}>
        Bring the sealed file (JSON). Signature, chain of events, every part and the verdict are checked anew. The file
        is not kept.
      </p>
      <label className="btn now" style={{ height: 64, minWidth: 240 }}>
        {name ? `${name}: choose another` : 'Choose the file'}
        <input
          type="file"
          accept=".json,application/json"
          className="sr"
          onChange={(e) => {
            const f = e.target.files?.[0];
            e.target.value = '';
            if (f) void check(f);
          }}
        />
      </label>
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
      <p className="dim" style={{ marginTop: 10 }}>
        You need not take our word for it:{' '}
        <a href="/verify-record.mjs" download>
          a second verifier
        </a>{' '}
        of about 200 lines, which shares nothing with this program, reads the same files with Node alone. The site’s
        keys stand on <a href="/keys">a sheet to print</a>.
      </p>
      {result && (
        <div style={{ marginTop: 14 }}>
          <ReportView report={result.report} />
          {result.addedSince > 0 && (
            <p className="finding caution" role="status">
              <b>{result.addedSince} were added since.</b> This file is older than what is kept here behind the record:
              ask for it anew.
            </p>
          )}
          {(result.report.additions?.length ?? 0) > 0 && (
            <>
              <h2 className="rule">Added since it was sealed</h2>
              <Additions list={result.report.additions ?? []} />
            </>
          )}
          {result.differences.length > 0 && (
            <>
              <div className="rule" style={{ marginTop: 12 }}>
                Where the file departs from the record kept here
              </div>
              <table className="t">
                <thead>
                  <tr>
                    <th>Where</th>
                    <th>Kept here</th>
                    <th>In the file</th>
                  </tr>
                </thead>
                <tbody>
                  {result.differences.map((d) => (
                    <tr key={d.path}>
                      <td className="m">{d.path}</td>
                      <td className="m">{d.kept}</td>
                      <td className="m neg">{d.file}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </>
          )}
          {!result.kept && !result.report.keyKnown && result.report.number && file && may('takeIn') && (
            <TakeIn key={result.report.number} file={file} />
          )}
          {result.kept && result.report.ok && (
            <p style={{ marginTop: 8 }}>It says the same, part for part, as the record kept here.</p>
          )}
        </div>
      )}
    </div>
  );
}
