/** A thing that is on or off. */
export function Tick(props: { name: string; path?: string; on: boolean; onChange: (on: boolean) => void }) {
  const { name, path, on, onChange } = props;
  return (
    <label className="flex items-center gap-2" data-path={path}>
      <input
        type="checkbox"
        className="size-4 shrink-0 accent-petrol"
        checked={on}
        onChange={(event) => onChange(event.target.checked)}
      />
      {name}
    </label>
  );
}
