import type { ReactNode } from 'react';
import type { useSheet } from './sheet';

/** The end of a sheet: what was refused and has no field, the act, and the way back. */
export function SheetEnd({
  sheet,
  verb,
  ready = true,
  onBack,
  children,
}: {
  sheet: Pick<ReturnType<typeof useSheet>, 'rest' | 'busy'>;
  verb: ReactNode;
  ready?: boolean;
  onBack: () => void;
  children?: ReactNode; // acts between the two
}) {
  const refused = sheet.rest();
  return (
    <>
      {refused && (
        <p className="wrong" role="alert">
          {refused}
        </p>
      )}
      <div className="row-btns">
        <button type="submit" className="btn now" disabled={!ready || sheet.busy}>
          {verb}
        </button>
        {children}
        <button type="button" className="btn" onClick={onBack}>
          Leave it
        </button>
      </div>
    </>
  );
}
