import { useQuery } from '@tanstack/react-query';
import { getRouteApi, Link } from '@tanstack/react-router';
import { type Constraints, Refused, usePackages } from '../../api/client';
import { useSession } from '../../api/session';
import { when } from '../../kit/numbers';
import { AwayList } from './AwayList';
import { CrewList } from './CrewList';
import { IsolationList } from './IsolationList';
import { JointLimits } from './JointLimits';
import { PackageParts } from './PackageParts';
import { constraintsOf, useChangeConstraints } from './useConstraints';
import './shift.css';

const route = getRouteApi('/shift/constraints');

/** What holds for the joints of a work package beside their plans; each change is kept at once and can be undone. */
export function ConstraintsPlace() {
  const search = route.useSearch();
  const navigate = route.useNavigate();
  const packages = usePackages();
  const code = search.package ?? packages.data?.[0]?.code;
  const { may } = useSession();
  const q = useQuery(constraintsOf(code));
  const v = q.data;
  const put = useChangeConstraints(code, v?.version);
  const mayPut = may('putConstraints');
  const change = (part: Partial<Constraints>) => v && put.mutateAsync({ ...v.constraints, ...part });
  const name = packages.data?.find((p) => p.code === code)?.name;
  return (
    <div className="shift constraints page">
      <div className="row-btns">
        <h1 className="title">
          What holds for {code} {name}
        </h1>
        <span className="sp" />
        <Link to="/shift" search={{ package: code }} className="btn">
          To the shift
        </Link>
      </div>
      <p className="dim">
        The plan of the shift keeps to what is said here. {v && v.version > 0 && `Changed ${when(v.at)} by ${v.by}. `}
        Take it out as{' '}
        <a href={`/api/packages/${encodeURIComponent(code ?? '')}/joints.xlsx`} download={`${code}.xlsx`}>
          spreadsheet
        </a>{' '}
        or{' '}
        <a href={`/api/packages/${encodeURIComponent(code ?? '')}/joints.csv`} download={`${code}.csv`}>
          CSV
        </a>
        {mayPut && (
          <>
            , or{' '}
            <Link to="/shift/import" search={{ package: code }}>
              take a list in
            </Link>
          </>
        )}
        .
      </p>
      {mayPut && v?.undoes && (
        <button type="button" className="btn sm" disabled={put.isPending} onClick={() => put.mutate('undo')}>
          Undo the last change
        </button>
      )}
      {(q.error ?? put.error) && (
        <p className="wrong" role="alert">
          {told((q.error ?? put.error) as Error, v?.constraints)}
        </p>
      )}
      {packages.isSuccess && !code && <p className="empty">No work package yet. Give joints one in the register.</p>}
      {v && (
        <>
          <JointLimits
            v={v}
            may={mayPut}
            at={search.at}
            onAt={(at) => void navigate({ search: (old) => ({ ...old, at }), replace: true })}
            onChange={change}
          />
          <div className="two">
            <PackageParts code={code ?? ''} may={may('putPackage')} />
            <CrewList v={v} may={mayPut} onChange={change} />
          </div>
          <div className="two">
            <IsolationList v={v} may={mayPut} onChange={change} />
            <AwayList v={v} may={mayPut} onChange={change} />
          </div>
        </>
      )}
    </div>
  );
}

/** A refusal names its field as the contract has it; here it is told with the isolation or absence by its name. */
function told(e: Error, c: Constraints | undefined): string {
  const field = e instanceof Refused ? (e.field ?? '') : '';
  const [of, n] = field.split('.');
  const at = Array.from({ length: 200 }, (_, i) => String(i + 1)).indexOf(n ?? '');
  if (of === 'isolations' && c?.isolations[at]) return `Isolation ${c.isolations[at].code}: ${e.message}`;
  return e.message;
}
