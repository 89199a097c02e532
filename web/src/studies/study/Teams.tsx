import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api } from "../../api/client";
import type { TeamOfStudy } from "../../api/generated";
import { ROLES } from "../../roles";
import { Button } from "../../ui/Button";
import { later } from "../../ui/later";
import { useRefusal } from "../../ui/useRefusal";
import { RoleChoice } from "./RoleChoice";

const OwnTeams = later(() => import("./OwnTeams").then((module) => module.OwnTeams));

type TeamRole = TeamOfStudy["role"];
const TEAM_ROLES: TeamRole[] = ["editor", "reader", "viewer"];

/** The teams of a study: their people come and go together. */
export function Teams({ study, owner }: { study: string; owner: boolean }) {
  const client = useQueryClient();
  const params = { path: { study_id: study } };
  const { data: teams } = useQuery({
    queryKey: ["teams of", study],
    queryFn: () => answer(api.GET("/api/studies/{study_id}/teams", { params })),
    staleTime: 0,
  });
  const [mine, setMine] = useState(false);
  const onRefusal = useRefusal(["teams of", study]);
  const read = (key: string) => client.invalidateQueries({ queryKey: [key, study] });
  const set = (team: string, role: TeamRole | null, may_sign = false, state = "") =>
    void answer(api.PUT("/api/studies/{study_id}/teams", { params, body: { team, role, may_sign, state } })).then(
      (now) => {
        client.setQueryData(["teams of", study], now);
        return read("people");
      },
      onRefusal,
    );
  if (!teams) return null;
  return (
    <section aria-label="Teams" className="mt-6">
      <h3 className="font-bold">Teams</h3>
      <p className="max-w-[46rem] text-[13px] text-muted">
        The people of a team come in and go together. Whoever keeps a team says who is in it, here too.
      </p>
      <ul className="mt-2 grid gap-1.5">
        {teams.map((team) => (
          <li key={team.id} className="flex flex-wrap items-center gap-x-4 gap-y-1">
            <span className="w-56 min-w-0">
              <strong className="block truncate" title={team.name}>
                {team.name}
              </strong>
              <span className="block truncate text-[12px] text-muted" title={team.people.join(", ")}>
                {team.people.join(", ") || "nobody yet"} · kept by {team.keeper}
              </span>
            </span>
            {owner ? (
              <RoleChoice
                of={`the team ${team.name}`}
                role={team.role}
                roles={TEAM_ROLES}
                maySign={team.may_sign}
                onSet={(role, sign) => set(team.id, role, sign, team.state)}
              />
            ) : (
              <span className="text-muted">
                {ROLES[team.role]}
                {team.may_sign && ", may sign off"}
              </span>
            )}
          </li>
        ))}
      </ul>
      <p className="mt-2">
        <Button look="quiet" className="!p-0" onClick={() => setMine(true)}>
          {owner ? "Let a team in, or make one" : "Your teams"}
        </Button>
      </p>
      {mine && (
        <OwnTeams
          here={teams.map((team) => team.id)}
          onLetIn={owner ? (team) => set(team, "viewer") : null}
          onChanged={() => void Promise.all([read("teams of"), read("people")])}
          onClose={() => setMine(false)}
        />
      )}
    </section>
  );
}
