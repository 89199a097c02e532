import { useEffect, useRef } from "react";
import type { ComparisonState } from "../api/generated";
import { Miniature } from "../scene/Miniature";

/** Every settled state in order, each with its miniature and what changed. */
export function Trail({ comparison, onGo }: { comparison: ComparisonState; onGo: (entry: number) => void }) {
  const shown = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    // Scrolling answers with a promise, which must not pass for a clean-up.
    shown.current?.scrollIntoView({ block: "nearest", inline: "nearest" });
  }, [comparison.head]);
  return (
    <nav
      aria-label="Trail"
      className="flex h-[84px] shrink-0 items-center gap-3 border-t border-hairline bg-rail px-3"
    >
      <span className="rotate-180 text-[12px] text-muted [writing-mode:vertical-rl]">Trail</span>
      <ol className="flex min-w-0 flex-1 gap-2.5 overflow-x-auto p-1">
        {comparison.trail.map((entry) => {
          const here = entry.number === comparison.head;
          return (
            <li key={entry.number}>
              <button
                type="button"
                ref={here ? shown : null}
                aria-current={here ? "step" : undefined}
                title={`${entry.words}, by ${entry.by}${entry.refused ? ". Kept as a branch: it came after a change by someone else" : ""}`}
                onClick={() => !here && onGo(entry.number)}
                className={`block w-[86px] overflow-hidden rounded bg-sheet/70 ${here ? "bg-sheet outline-2 outline-ink" : ""}`}
              >
                <span className="grid h-[46px] place-items-center" aria-hidden="true">
                  <Miniature comparison={comparison.id} state={entry.number} scale={0.7} />
                </span>
                <span className="block truncate px-1.5 pb-0.5 text-left text-[11.5px] text-muted">
                  {entry.refused && "⑂ "}
                  {entry.words}
                </span>
              </button>
            </li>
          );
        })}
      </ol>
    </nav>
  );
}
