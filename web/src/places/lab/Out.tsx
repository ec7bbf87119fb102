import { useState } from 'react';
import { api, must } from '../../api/client';
import { digits } from '../../kit/numbers';
import type { LabProcedure, LabSetup, Outcome } from './ask';

function save(name: string, data: Blob) {
  const a = document.createElement('a');
  a.href = URL.createObjectURL(data);
  a.download = name;
  a.click();
  setTimeout(() => URL.revokeObjectURL(a.href), 1000);
}

const cells = (o: Outcome) =>
  o.history.map((row, i) => [
    String(i + 1),
    (o.steps[i]?.bolts ?? []).join(' '),
    (o.steps[i]?.angle ?? []).map((a) => a.toFixed(1)).join(' '),
    ...row.map((f) => f.toFixed(2)),
  ]);

const heads = (o: Outcome) => ['pull', 'bolts', 'angle_deg', ...o.forces.map((_, i) => `bolt_${i + 1}_kN`)];

/** The strip as a drawing of its own, with the colours that it has on paper. */
function drawing(from: Element): string | undefined {
  const svg = from.closest('.lab-column')?.querySelector('.lab-strip');
  if (!svg) return undefined;
  const copy = svg.cloneNode(true) as SVGElement;
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  const style = document.createElementNS('http://www.w3.org/2000/svg', 'style');
  style.textContent =
    'text{font:11px sans-serif}.pulled{fill:#fff;stroke:#B5400A}.pass,.at{stroke:#0E2E37;fill:none}rect{fill:#0E2E37}rect.pulled{fill:#fff}';
  copy.prepend(style);
  return new XMLSerializer().serializeToString(copy);
}

/** Paints a drawing twice as large on white. */
async function painted(svg: string): Promise<Blob | null> {
  const img = new Image();
  img.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
  await img.decode();
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [2 * img.width, 2 * img.height];
  const pen = canvas.getContext('2d');
  if (!pen) return null;
  pen.fillStyle = '#fff';
  pen.fillRect(0, 0, canvas.width, canvas.height);
  pen.drawImage(img, 0, 0, canvas.width, canvas.height);
  return new Promise((done) => canvas.toBlob(done, 'image/png'));
}

/** The history as CSV and spreadsheet, and the drawing of the strip as SVG and PNG. */
export function Out({
  o,
  side,
  setup,
  procedure,
}: {
  o: Outcome;
  side: string;
  setup: LabSetup;
  procedure: LabProcedure;
}) {
  const [wrong, setWrong] = useState('');
  const sheet = () =>
    must(api.POST('/lab/history.xlsx', { body: { setup, procedure }, parseAs: 'blob' }))
      .then((b) => {
        setWrong('');
        save(`lab-${side}.xlsx`, b as unknown as Blob);
      })
      .catch((e: Error) => setWrong(e.message));
  return (
    <>
      <button type="button" className="btn sm" onClick={() => void sheet()}>
        Spreadsheet
      </button>
      <button
        type="button"
        className="btn sm"
        onClick={() =>
          save(`lab-${side}.csv`, new Blob([[heads(o), ...cells(o)].map((r) => r.join(',')).join('\r\n')]))
        }
      >
        CSV
      </button>
      <button
        type="button"
        className="btn sm"
        onClick={(e) => {
          const svg = drawing(e.currentTarget);
          if (svg) save(`lab-${side}.svg`, new Blob([svg], { type: 'image/svg+xml' }));
        }}
      >
        SVG
      </button>
      <button
        type="button"
        className="btn sm"
        onClick={(e) => {
          const svg = drawing(e.currentTarget);
          if (svg) void painted(svg).then((png) => png && save(`lab-${side}.png`, png));
        }}
      >
        PNG
      </button>
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
    </>
  );
}

/** The whole story in figures, for print and whoever cannot see the strip. */
export function HistoryTable({ o }: { o: Outcome }) {
  return (
    <div className="scroll-x">
      <table className="t lab-table">
        <caption>kN of each bolt after each pull</caption>
        <thead>
          <tr>
            <th>Pull</th>
            <th>Bolt</th>
            {o.forces.map((_, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: bolts have no name but their number
              <th key={i} className="n">
                {i + 1}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {o.history.map((row, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: pulls have no name but their number
            <tr key={i}>
              <td>{i + 1}</td>
              <td>{(o.steps[i]?.bolts ?? []).join(', ')}</td>
              {row.map((f, b) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: as above
                <td key={b} className="n">
                  {digits(f, 3)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
