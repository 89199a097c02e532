import { ROLES, type Role } from "../../roles";
import { Button } from "../../ui/Button";

interface Props<R extends Role> {
  /** Whose it is, as labels say it: "mira", "the team Day shift". */
  of: string;
  role: R;
  roles: R[];
  maySign: boolean;
  /** With another role or right, or out of the study with null. */
  onSet: (role: R | null, maySign?: boolean) => void;
}

/** What somebody may do in a study, and the way out. */
export function RoleChoice<R extends Role>({ of, role, roles, maySign, onSet }: Props<R>) {
  return (
    <>
      <select
        aria-label={`Role of ${of}`}
        value={role}
        onChange={(event) => onSet(event.target.value as R, maySign)}
        className="rounded border border-hairline bg-sheet px-2 py-1"
      >
        {roles.map((name) => (
          <option key={name} value={name}>
            {ROLES[name]}
          </option>
        ))}
      </select>
      {role !== "owner" && (
        <label className="flex items-center gap-1.5 text-sm">
          <input
            type="checkbox"
            className="size-4 accent-petrol"
            checked={maySign}
            onChange={(event) => onSet(role, event.target.checked)}
          />
          may sign off
        </label>
      )}
      <Button
        look="quiet"
        className="!p-0 text-[13px] !font-normal"
        aria-label={`Take out ${of}`}
        onClick={() => onSet(null)}
      >
        Take out
      </Button>
    </>
  );
}
