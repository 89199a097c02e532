import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api } from "../../api/client";
import { ROLES, type Role } from "../../roles";
import { Button } from "../../ui/Button";
import { useRefusal } from "../../ui/useRefusal";
import { Invite } from "./Invite";
import { RoleChoice } from "./RoleChoice";

const ALL_ROLES = Object.keys(ROLES) as Role[];

/** Who is in a study and what they may do; owners let people in, change roles and take people out. */
export function People({ study, owner }: { study: string; owner: boolean }) {
  const client = useQueryClient();
  const params = { path: { study_id: study } };
  const { data: people } = useQuery({
    queryKey: ["people", study],
    queryFn: () => answer(api.GET("/api/studies/{study_id}/people", { params })),
  });
  const onRefusal = useRefusal(["people", study]);
  const [username, setUsername] = useState("");
  const set = (username: string, role: Role | null, may_sign = false, state = "") =>
    answer(api.PUT("/api/studies/{study_id}/people", { params, body: { username, role, may_sign, state } })).then(
      (now) => {
        client.setQueryData(["people", study], now);
        return true;
      },
      onRefusal,
    );
  const add = async () => {
    if (username.trim() && (await set(username.trim(), "viewer"))) setUsername("");
  };
  if (!people) return null;
  return (
    <section aria-label="People" className="mt-5">
      <h2 className="text-lg font-bold">People</h2>
      <ul className="mt-2 grid gap-1.5">
        {people.map((member) => (
          <li key={member.username} className="flex flex-wrap items-center gap-x-4 gap-y-1">
            <span className="w-56 truncate font-bold" title={member.username}>
              {member.name || member.username}
              {!member.active && <span className="font-normal text-muted"> (deactivated)</span>}
            </span>
            {owner && !member.team ? (
              <RoleChoice
                of={member.username}
                role={member.role}
                roles={ALL_ROLES}
                maySign={member.may_sign}
                onSet={(role, sign) => void set(member.username, role, sign, member.state)}
              />
            ) : (
              <span className="text-muted">
                {ROLES[member.role]}
                {member.may_sign && ", may sign off"}
                {member.team && ` · with the team ${member.team}`}
              </span>
            )}
          </li>
        ))}
      </ul>
      {owner && (
        <form
          className="mt-3 flex items-center gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            void add();
          }}
        >
          <input
            aria-label="Name of a person"
            placeholder="Name of a person with an account"
            value={username}
            onChange={(event) => setUsername(event.target.value)}
            className="w-72 rounded border border-hairline bg-sheet px-3 py-1.5"
          />
          <Button type="submit">Let in</Button>
          <span className="text-sm text-muted">as viewer first; the role is changed above</span>
        </form>
      )}
      {owner && <Invite study={study} />}
    </section>
  );
}
