import { Link } from '@tanstack/react-router';
import { ImportFile } from '../../kit/ImportFile';

/** The tools from a spreadsheet or a CSV. */
export function ImportTools() {
  return (
    <ImportFile
      title="Import tools"
      path="/import/tools"
      accept=".csv,.xlsx,text/csv,text/plain"
      noun="tools"
      text={
        <>
          A spreadsheet (its first sheet) or a CSV with one tool a line; the first line names the columns. A tool is
          known by its tag. Charts and certificate points are pairs: 10:645; 40:2560. The present crib as a{' '}
          <a href="/api/export/tools.xlsx" download="tools.xlsx">
            spreadsheet
          </a>{' '}
          or{' '}
          <a href="/api/export/tools.csv" download="tools.csv">
            CSV
          </a>{' '}
          has every column. What is put aside stays so.
        </>
      }
      done={
        <Link to="/crib" className="btn">
          See the crib
        </Link>
      }
    />
  );
}
