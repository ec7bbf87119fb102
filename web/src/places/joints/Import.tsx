import { Link } from '@tanstack/react-router';
import { useSession } from '../../api/session';
import { ImportFile } from '../../kit/ImportFile';
import { EarlierImports } from './UndoImport';

/** The register of joints from a CSV file. */
export function ImportPage() {
  const { may } = useSession();
  return (
    <ImportFile
      title="Import a register"
      path="/import/joints"
      accept=".csv,text/csv,text/plain"
      noun="joints"
      text={
        <>
          A CSV with one joint a line; the first line names the columns. A joint is known by its tag: one that is here
          already is changed, and a changed specification becomes a new version.{' '}
          <a href="/api/export/joints.csv" download="joints.csv">
            The present register
          </a>{' '}
          has every column.
        </>
      }
      after={may('listImports') && <EarlierImports />}
      done={
        <Link to="/joints" className="btn">
          See the joints
        </Link>
      }
    />
  );
}
