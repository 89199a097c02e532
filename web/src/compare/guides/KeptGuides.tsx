import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api } from "../../api/client";
import type { GuideState, Recipe } from "../../api/generated";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { tell } from "../../ui/Notices";

type Kept = GuideState["guides"];

interface Props {
  study: string;
  recipe: Recipe;
  onSettle: (guides: Recipe["guides"]) => void;
}

/** The study's list of guides: set into this figure with a press, or kept from it under a name. */
export function KeptGuides({ study, recipe, onSettle }: Props) {
  const client = useQueryClient();
  const [naming, setNaming] = useState(false);
  const key = ["guides", study];
  const params = { path: { study_id: study } };
  const { data: list } = useQuery({
    queryKey: key,
    queryFn: () => answer(api.GET("/api/studies/{study_id}/guides", { params })),
  });
  if (!list) return null;
  const kept = list.guides;
  const measure = recipe.measure.columns[0] ?? "";
  const fitting = kept.filter((guides) => guides.measure === "" || guides.measure === measure);
  /** Change the newest list there is, whoever changed it meanwhile. */
  const change = async (turn: (guides: Kept) => Kept) => {
    const newest = await answer(api.GET("/api/studies/{study_id}/guides", { params }));
    const body = { revision: newest.revision, guides: turn(newest.guides) };
    client.setQueryData(key, await answer(api.PUT("/api/studies/{study_id}/guides", { params, body })));
  };
  const keep = (name: string) => {
    setNaming(false);
    if (name)
      void change((guides) => [
        ...guides.filter((other) => other.name !== name),
        { name, measure, guides: recipe.guides },
      ]).catch(tell);
  };
  return (
    <div className="grid gap-1.5">
      <h3 className="font-bold">Kept in the study</h3>
      {fitting.length === 0 && <p className="text-[12.5px] text-muted">No guides are kept for {measure} yet.</p>}
      <ul className="grid gap-1">
        {fitting.map((guides) => (
          <li key={guides.name} className="flex items-baseline gap-3">
            <Button
              look="quiet"
              className="min-w-0 flex-1 truncate !p-0 text-left"
              title={`Set “${guides.name}” into this figure`}
              onClick={() => onSettle([...recipe.guides, ...guides.guides])}
            >
              {guides.name}
            </Button>
            <Button
              look="quiet"
              className="!p-0 !font-normal"
              aria-label={`Take ${guides.name} off the list`}
              onClick={() => void change((all) => all.filter((other) => other.name !== guides.name)).catch(tell)}
            >
              Remove
            </Button>
          </li>
        ))}
      </ul>
      {naming ? (
        <Field
          autoFocus
          aria-label="Name in the study’s list"
          placeholder="name, such as adults, morning"
          value=""
          maxLength={200}
          onSettle={(name) => {
            keep(name);
            return true;
          }}
          onLeave={() => setNaming(false)}
          className="rounded border border-hairline bg-sheet px-2 py-1"
        />
      ) : (
        recipe.guides.length > 0 && (
          <Button look="quiet" className="justify-self-start !p-0" onClick={() => setNaming(true)}>
            Keep this figure’s guides
          </Button>
        )
      )}
    </div>
  );
}
