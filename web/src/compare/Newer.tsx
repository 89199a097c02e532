import { Link } from "wouter";
import { answer, api } from "../api/client";
import { tell } from "../ui/Notices";
import { OldAndNew } from "./OldAndNew";
import { useBenchActions, useBenchState, useComparison } from "./store/BenchContext";

/** What came since the figure was drawn: newer data, a newer house style. */
export function Newer() {
  const comparison = useComparison();
  const scene = useBenchState((state) => state.scene);
  const { takeNewest, reload } = useBenchActions();
  const { newer, newer_style: style, study, id } = comparison;
  const taken = (call: Promise<unknown>) => void call.then(reload).catch(tell);
  return (
    <>
      {newer && (
        <OldAndNew
          comparison={comparison}
          words={newer.words}
          after="over the newest data"
          scene={scene}
          ask={{ newest: true }}
          take="Take the newest data"
          onTake={takeNewest}
        >
          <Link href={`/tables/${newer.table}`} className="font-bold text-petrol">
            Show the table
          </Link>
        </OldAndNew>
      )}
      {style && (
        <OldAndNew
          comparison={comparison}
          words="The study’s house style changed since this figure was drawn."
          after="in the newest house style"
          scene={scene}
          ask={{ newest_style: true }}
          take="Take the newest house style"
          onTake={() =>
            taken(
              answer(
                api.POST("/api/comparisons/{comparison_id}/style", { params: { path: { comparison_id: id } } }),
              ),
            )
          }
        >
          <button
            type="button"
            className="font-bold text-petrol"
            onClick={() =>
              taken(answer(api.POST("/api/studies/{study_id}/house", { params: { path: { study_id: study } } })))
            }
          >
            Take it in every figure of the study
          </button>
        </OldAndNew>
      )}
    </>
  );
}
