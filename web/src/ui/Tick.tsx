/** A thing that is on or off. */
export function Tick({ name, on, onChange }: { name: string; on: boolean; onChange: (on: boolean) => void }) {
  return (
    <label className="flex items-center gap-2">
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
