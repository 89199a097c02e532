import { useRef } from "react";
import { answer, api } from "../../api/client";
import type { Style } from "../../api/generated";
import { Button } from "../../ui/Button";
import { tell } from "../../ui/Notices";
import { useBenchActions, useRights, useShown } from "../store/BenchContext";
import { followed } from "./ownLook";

/** The study's look: made from this figure's, taken out as JSON, brought in from another study. */
export function HouseStyle() {
  const { comparison: shown, recipe } = useShown();
  const { change: onSettle } = useRights();
  const { id: comparison, store, settledHead } = useBenchActions();
  const { study } = shown;
  const chosen = useRef<HTMLInputElement>(null);
  const keep = async (style: Style) => {
    const params = { path: { study_id: study } };
    const { revision } = await answer(api.GET("/api/studies/{study_id}/house", { params }));
    await answer(api.PUT("/api/studies/{study_id}/house", { params, body: { revision, style } }));
    // The figure that it came from takes it, without points of its own; to the others it is offered.
    await answer(
      api.POST("/api/comparisons/{comparison_id}/style", { params: { path: { comparison_id: comparison } } }),
    );
    onSettle({ ...recipe, style: "house", own_look: followed(recipe.own_look) });
  };
  const keepThis = async () => {
    await settledHead();
    const now = store.getState().comparison;
    if (now) await keep(now.style);
  };
  const takeOut = async () => {
    const { style } = await answer(
      api.GET("/api/studies/{study_id}/house", { params: { path: { study_id: study } } }),
    );
    const link = document.createElement("a");
    link.href = URL.createObjectURL(new Blob([JSON.stringify(style, null, 2)], { type: "application/json" }));
    link.download = "house style.json";
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
  };
  const bringIn = async (file: File) => keep(JSON.parse(await file.text()) as Style);
  return (
    <section aria-label="House style" className="grid gap-1.5 border-t border-hairline pt-3">
      <h2 className="text-[15px] font-bold">House style</h2>
      <p className="text-[12.5px] text-muted">
        A change is offered to every figure of the study, old and new side by side.
      </p>
      <p className="flex flex-wrap gap-x-4 gap-y-1">
        <Button look="quiet" className="!p-0" onClick={() => void keepThis().catch(tell)}>
          Make it this figure’s
        </Button>
        <Button look="quiet" className="!p-0" onClick={() => void takeOut().catch(tell)}>
          Take out
        </Button>
        <Button look="quiet" className="!p-0" onClick={() => chosen.current?.click()}>
          Bring in
        </Button>
      </p>
      <input
        ref={chosen}
        type="file"
        accept="application/json"
        aria-label="House style as JSON"
        className="sr-only"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) void bringIn(file).catch(tell);
          event.target.value = "";
        }}
      />
    </section>
  );
}
