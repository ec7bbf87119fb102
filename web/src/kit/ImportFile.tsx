import { useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { api, type ImportResult, must } from '../api/client';

interface ImportProps {
  title: string;
  text: ReactNode;
  path: '/import/joints' | '/import/tools' | '/packages/{code}/joints';
  code?: string; // of the work package
  name?: string; // of a new one
  accept: string;
  noun: string; // what is imported, many of them
  done: ReactNode; // where to go afterwards
  after?: ReactNode; // under it all
}

/** A list from a file: first what it would do and what is wrong with it, cell by cell; then all of it or nothing. */
export function ImportFile({ title, text, path, code = '', name, accept, noun, done, after }: ImportProps) {
  const qc = useQueryClient();
  const [file, setFile] = useState<File>();
  const [result, setResult] = useState<ImportResult>();
  const [wrong, setWrong] = useState('');
  const [busy, setBusy] = useState(false);
  async function send(f: File, apply: boolean) {
    setBusy(true);
    setWrong('');
    try {
      const file = {
        body: f as unknown as string,
        bodySerializer: (b: string) => b as unknown as Blob,
        headers: { 'Content-Type': 'application/octet-stream' },
      };
      const res = await must(
        path === '/packages/{code}/joints'
          ? api.POST(path, { params: { path: { code }, query: { apply, ...(name ? { name } : {}) } }, ...file })
          : api.POST(path, { params: { query: { apply } }, ...file }),
      );
      setResult(res);
      if (res.applied) await qc.invalidateQueries();
    } catch (e) {
      setWrong((e as Error).message);
      setResult(undefined);
    } finally {
      setBusy(false);
    }
  }
  return (
    <div className="page">
      <h1 className="title">{title}</h1>
      <p className="dim">{text}</p>
      <div className="row-btns">
        <label className={`btn${file ? '' : ' now'}`} style={{ height: 64 }}>
          {file ? `${file.name}: choose another` : 'Choose the file'}
          <input
            type="file"
            accept={accept}
            className="sr"
            onChange={(e) => {
              const f = e.target.files?.[0];
              e.target.value = '';
              if (f) {
                setFile(f);
                void send(f, false);
              }
            }}
          />
        </label>
        {file && result && !result.applied && result.errors.length === 0 && result.new + result.changed > 0 && (
          <button
            type="button"
            className="btn now"
            style={{ height: 64 }}
            disabled={busy}
            onClick={() => void send(file, true)}
          >
            Import {result.new + result.changed} {noun}
          </button>
        )}
        {busy && <span className="dim">reading {file?.name}</span>}
      </div>
      {wrong && (
        <p className="wrong" role="alert" style={{ marginTop: 10 }}>
          {wrong}
        </p>
      )}
      {result && result.errors.length > 0 && (
        <>
          <div className="stripe" style={{ marginTop: 14 }} />
          <h2 className="title hld" style={{ fontSize: 28, margin: '10px 0' }}>
            {result.errorRows} line{result.errorRows === 1 ? ' is' : 's are'} wrong. Nothing was imported.
          </h2>
          <table className="t">
            <thead>
              <tr>
                <th className="n">Line</th>
                <th>Column</th>
                <th>Reads</th>
                <th>What is wrong</th>
                <th>What to do</th>
              </tr>
            </thead>
            <tbody>
              {result.errors.map((e) => (
                <tr key={`${e.line}${e.column}${e.what}`}>
                  <td className="n">{e.line}</td>
                  <td className="m">{e.column}</td>
                  <td className="m">{e.value || 'empty'}</td>
                  <td>{e.what}</td>
                  <td>{e.remedy}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
      {result && result.errors.length === 0 && (
        <>
          <h2
            className="title"
            style={{ fontSize: 28, margin: '14px 0 8px', color: result.applied ? 'var(--ok)' : undefined }}
            role="status"
          >
            {result.applied ? 'Imported: ' : 'Would be: '}
            {result.new} new, {result.changed} changed, {result.same} as they were
          </h2>
          {result.applied && done}
          <table className="t" style={{ marginTop: 8 }}>
            <thead>
              <tr>
                <th className="n">Line</th>
                <th>Tag</th>
                <th>Name</th>
                <th>Make</th>
                <th>Does</th>
                <th>What</th>
              </tr>
            </thead>
            <tbody>
              {result.rows.map((r) => (
                <tr key={r.tag}>
                  <td className="n">{r.line}</td>
                  <td className="m">{r.tag}</td>
                  <td>{r.name}</td>
                  <td>{r.make}</td>
                  <td>
                    <b>{r.does}</b>
                  </td>
                  <td>{r.what}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
      {after}
    </div>
  );
}
