/** What can hurt somebody at what comes next, before it is done. */
export function Cautions({ list }: { list: string[] | undefined }) {
  if (!list?.length) return null;
  return (
    <div className="finding stop cautions" role="note">
      <b>Caution</b>
      {list.map((c) => (
        <p key={c}>{c}</p>
      ))}
    </div>
  );
}
