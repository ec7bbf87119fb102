import { TextInput } from '@mantine/core';
import { getRouteApi, Link } from '@tanstack/react-router';
import { useState } from 'react';
import { usePackages } from '../../api/client';
import { ImportFile } from '../../kit/ImportFile';

const route = getRouteApi('/shift/import');

/** A work package from a list: its joints, and what holds for them. */
export function ImportJobs() {
  const { package: known } = route.useSearch();
  const [code, setCode] = useState(known ?? '');
  const [name, setName] = useState('');
  const packages = usePackages();
  const example = known ?? packages.data?.[0]?.code;
  return (
    <>
      <div className="page import-which">
        <TextInput label="Work package" value={code} onChange={(e) => setCode(e.currentTarget.value)} />
        <TextInput label="Its name, if it is new" value={name} onChange={(e) => setName(e.currentTarget.value)} />
      </div>
      {code.trim() ? (
        <ImportFile
          key={code}
          title={`Joints of ${code}`}
          path="/packages/{code}/joints"
          code={code.trim()}
          name={name.trim()}
          accept=".csv,.xlsx,text/csv,text/plain"
          noun="joints"
          text={
            <>
              A spreadsheet (its first sheet) or a CSV with a joint of the register on each line, known by its tag, with
              when it is due, not before when it is begun, its isolation, what comes before it and how to get there.
              Times are of the site's clocks, 2026-12-01T07:00. What was said of other joints stays.
              {example && (
                <>
                  {' '}
                  <a href={`/api/packages/${encodeURIComponent(example)}/joints.xlsx`} download={`${example}.xlsx`}>
                    The list of {example}
                  </a>{' '}
                  has every column.
                </>
              )}
            </>
          }
          done={
            <Link to="/shift/constraints" search={{ package: code.trim() }} className="btn">
              See what holds
            </Link>
          }
        />
      ) : (
        <p className="empty">Say which work package the list is of.</p>
      )}
    </>
  );
}
