import { useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api } from "../../api/client";
import type { TeamState, TeamStates } from "../../api/generated";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Modal } from "../../ui/Modal";
import { tell } from "../../ui/Notices";
import { TagForm } from "../../ui/TagForm";
import { useRefusal } from "../../ui/useRefusal";

interface Props {
  /** The teams that are in the study already. */
  here: string[];
  onLetIn: ((team: string) => void) | null;
  /** Who is in a team changed. */
  onChanged: () => void;
  onClose: () => void;
}

const KEY = ["teams"];

/** The teams that one keeps or is in: made, named, filled, left, let into the study. */
export function OwnTeams({ here, onLetIn, onChanged, onClose }: Props) {
  const client = useQueryClient();
  const { data: teams } = useQuery({ queryKey: KEY, queryFn: () => answer(api.GET("/api/teams")), staleTime: 0 });
  const onRefusal = useRefusal(KEY);
  const take = (next: TeamStates) => {
    client.setQueryData(KEY, next);
    onChanged();
  };
  const make = (name: string) =>
    void answer(api.POST("/api/teams", { body: { name, people: [] } })).then(take, tell);
  const keep = ({ id, name, people, state }: Pick<TeamState, "id" | "name" | "people" | "state">) =>
    void answer(
      api.PUT("/api/teams/{team_id}", { params: { path: { team_id: id } }, body: { name, people, state } }),
    ).then(take, onRefusal);
  const go = (asked: Promise<unknown>) =>
    void asked.then(() => {
      onChanged();
      return client.invalidateQueries({ queryKey: KEY });
    }, tell);
  return (
    <Modal
      title="Your teams"
      words="People who come into studies and leave them together"
      className="top-[10vh] max-h-[80vh] w-[40rem] overflow-y-auto bg-sheet p-5 text-[13px]"
      onClose={onClose}
    >
      <div className="grid gap-4">
        <TagForm label="Name of a new team" hint="A new team’s name" name="Make it" onTag={make} />
        {teams?.length === 0 && <p className="text-muted">You keep no team and are in none.</p>}
        {teams?.map((team) => (
          <article key={team.id} aria-label={team.name} className="rounded border border-hairline px-3 py-2">
            <div className="flex items-baseline gap-4">
              {team.mine ? (
                <Field
                  aria-label={`Name of the team ${team.name}`}
                  value={team.name}
                  onSettle={(name) => {
                    if (!name.trim()) return false;
                    keep({ ...team, name });
                    return true;
                  }}
                  className="min-w-0 flex-1 rounded border border-transparent px-1 font-bold hover:border-hairline"
                />
              ) : (
                <strong className="min-w-0 flex-1 truncate">
                  {team.name} <span className="font-normal text-muted">kept by {team.keeper}</span>
                </strong>
              )}
              {onLetIn &&
                (here.includes(team.id) ? (
                  <span className="text-muted">in this study</span>
                ) : (
                  <Button look="quiet" className="!p-0" onClick={() => onLetIn(team.id)}>
                    Let in as viewers
                  </Button>
                ))}
              <TeamEnd team={team} go={go} />
            </div>
            <ul className="mt-1.5 flex flex-wrap items-center gap-2">
              {team.people.map((person) => (
                <li key={person} className="flex items-center gap-1.5 rounded bg-rail px-2 py-0.5">
                  {person}
                  {team.mine && (
                    <button
                      type="button"
                      aria-label={`Take ${person} out of ${team.name}`}
                      onClick={() => keep({ ...team, people: team.people.filter((other) => other !== person) })}
                      className="text-muted hover:text-ink"
                    >
                      ✕
                    </button>
                  )}
                </li>
              ))}
              {team.mine && (
                <li>
                  <TagForm
                    label={`Another person of ${team.name}`}
                    hint="Name of an account"
                    name="Add"
                    onTag={(person) => keep({ ...team, people: [...team.people, person] })}
                  />
                </li>
              )}
            </ul>
          </article>
        ))}
      </div>
    </Modal>
  );
}

function TeamEnd({ team, go }: { team: TeamState; go: (asked: Promise<unknown>) => void }) {
  const params = { path: { team_id: team.id } };
  return team.mine ? (
    <Button
      look="quiet"
      className="!p-0 !font-normal"
      title="Its people leave the studies that they came into with it"
      aria-label={`End the team ${team.name}`}
      onClick={() => go(answer(api.DELETE("/api/teams/{team_id}", { params })))}
    >
      End it
    </Button>
  ) : (
    <Button
      look="quiet"
      className="!p-0 !font-normal"
      title="You leave the studies that you came into with it"
      aria-label={`Leave the team ${team.name}`}
      onClick={() => go(answer(api.DELETE("/api/teams/{team_id}/people/me", { params })))}
    >
      Leave it
    </Button>
  );
}
