/** The head of a list in a report. */
export function ListHead({ names }: { readonly names: readonly string[] }) {
  return (
    <thead>
      <tr className="text-left text-[12px] text-faint">
        {names.map((name) => (
          <th key={name} scope="col" className="font-normal">
            {name}
          </th>
        ))}
      </tr>
    </thead>
  );
}
