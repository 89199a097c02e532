/** One's own password, which leaves the page with what it is asked for and stays nowhere. */
export function PasswordField(props: { name: string; value: string; onChange: (text: string) => void }) {
  return (
    <label className="grid gap-1">
      {props.name}
      <input
        type="password"
        autoComplete="current-password"
        value={props.value}
        onChange={(event) => props.onChange(event.target.value)}
        className="rounded border border-hairline px-2 py-1.5"
      />
    </label>
  );
}
