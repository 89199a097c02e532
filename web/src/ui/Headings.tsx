/** The headings of a plain table. */
export function Headings({ names }: { names: string[] }) {
  return (
    <thead className="text-sm text-muted">
      <tr className="border-b border-hairline">
        {names.map((name) => (
          <th key={name} scope="col" className="py-1 pr-6 font-normal">
            {name}
          </th>
        ))}
      </tr>
    </thead>
  );
}
