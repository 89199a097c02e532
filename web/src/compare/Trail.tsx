import { DropdownMenu } from "radix-ui";
import { memo, useEffect, useRef, useState } from "react";
import { answer, api } from "../api/client";
import type { TrailState } from "../api/generated";
import { Miniature } from "../scene/Miniature";
import { Button } from "../ui/Button";
import { Field } from "../ui/Field";
import { tell } from "../ui/Notices";
import { letter } from "./many/letter";
import { statesSideBySide } from "./many/sides";
import { useBenchActions, useBenchState, useComparison, useRights } from "./store/BenchContext";
import { useCopy } from "./useCopy";

/** Every settled state in order, each with its miniature and what changed; states can be named, pinned and copied. */
export function Trail() {
  const comparison = useComparison();
  const { look, pin } = useBenchActions();
  const pinned = useBenchState((state) => state.pinned);
  const sideBySide = () => look({ dialog: statesSideBySide(comparison, pinned) });
  // A long trail comes by its end; what was shown of it stays while it grows.
  const seen = useRef(new Map<number, TrailState>());
  for (const entry of comparison.trail) seen.current.set(entry.number, entry);
  const states = [...seen.current.values()].sort((a, b) => a.number - b.number);
  const [reached, setReached] = useState(false);
  const back = async () => {
    const before = states[0]?.number;
    const params = { path: { comparison_id: comparison.id }, query: before === undefined ? {} : { before } };
    const page = await answer(api.GET("/api/comparisons/{comparison_id}/states", { params }));
    for (const entry of page.states) seen.current.set(entry.number, entry);
    setReached(!page.earlier);
  };
  const shown = useRef<HTMLLIElement>(null);
  useEffect(() => {
    // Scrolling answers with a promise, which must not pass for a clean-up.
    shown.current?.scrollIntoView({ block: "nearest", inline: "nearest" });
  }, [comparison.head]);
  return (
    <nav
      aria-label="Trail"
      className="flex min-h-[84px] shrink-0 items-center gap-3 border-t border-hairline bg-rail px-3"
    >
      <span className="rotate-180 text-[12px] text-ink/80 [writing-mode:vertical-rl]">Trail</span>
      <ol className="flex min-w-0 flex-1 gap-2.5 overflow-x-auto scroll-px-2 p-1">
        {comparison.earlier && !reached && (
          <li className="grid shrink-0 place-items-center">
            <Button look="quiet" onClick={() => void back().catch(tell)}>
              Earlier states
            </Button>
          </li>
        )}
        {states.map((entry) => (
          <li key={entry.number} ref={entry.number === comparison.head ? shown : null} className="shrink-0">
            <State entry={entry} place={pinned.indexOf(entry.number)} here={entry.number === comparison.head} />
          </li>
        ))}
      </ol>
      {comparison.trail.length > 1 && (
        <div className="grid w-44 shrink-0 justify-items-end gap-0.5 text-right text-[12px] text-ink/80">
          {pinned.length < 2 ? (
            <p>Pin two states or more (⋯) to see them side by side.</p>
          ) : (
            <Button onClick={sideBySide}>{pinned.length} side by side</Button>
          )}
          {pinned.length > 0 && (
            <Button look="quiet" className="!p-0 !font-normal" onClick={() => pinned.map(pin)}>
              Unpin all
            </Button>
          )}
        </div>
      )}
    </nav>
  );
}

interface StateProps {
  entry: TrailState;
  /** Its place among those that are pinned; −1 for none of them. */
  place: number;
  /** Whether it is the one that is shown. */
  here: boolean;
}

const State = memo(function State({ entry, place, here }: StateProps) {
  const { looking } = useRights();
  const { id, goTo, pin, saveMeta } = useBenchActions();
  const drawn = useBenchState((state) => state.scene !== null);
  const copy = useCopy();
  const onName = (name: string) => {
    const params = { path: { comparison_id: id, number: entry.number } };
    saveMeta(answer(api.PUT("/api/comparisons/{comparison_id}/trail/{number}/name", { params, body: { name } })));
  };
  const [naming, setNaming] = useState(false);
  const words = entry.name || entry.words;
  return (
    <div className={`group relative w-[86px] rounded bg-sheet/70 ${here ? "bg-sheet outline-2 outline-ink" : ""}`}>
      <button
        type="button"
        aria-current={here ? "step" : undefined}
        aria-label={words}
        title={`${words}${entry.name ? ` (${entry.words})` : ""}, by ${entry.by}${entry.refused ? ". Kept as a branch: it came after a change by someone else" : ""}${entry.foreign ? ", as the bundle says that brought it" : ""}`}
        onClick={() => !here && goTo(entry.number)}
        className="block w-full overflow-hidden rounded"
      >
        <span className="grid h-[46px] place-items-center" aria-hidden="true">
          <Miniature comparison={id} state={entry.number} scale={0.7} waits={!drawn} />
        </span>
        {!naming && (
          <span
            className={`block truncate px-1.5 pb-0.5 text-left text-[11.5px] ${entry.name ? "font-bold text-ink" : "text-ink/80"}`}
          >
            {entry.refused && "⑂ "}
            {words}
          </span>
        )}
      </button>
      {naming && (
        <Field
          autoFocus
          aria-label={`Name of the state ${entry.words}`}
          value={entry.name ?? ""}
          maxLength={100}
          placeholder={entry.words}
          onSettle={(name) => {
            setNaming(false);
            onName(name);
            return true;
          }}
          onLeave={() => setNaming(false)}
          className="block h-[19px] w-full rounded border border-petrol bg-sheet px-1 text-[11.5px]"
        />
      )}
      {place >= 0 && (
        <span className="absolute bottom-5 left-1 grid size-4 place-items-center rounded-sm bg-accent text-[11px] font-bold">
          {letter(place)}
        </span>
      )}
      <DropdownMenu.Root>
        <DropdownMenu.Trigger
          aria-label={`More of ${words}`}
          className="absolute top-0.5 right-0.5 grid size-5 place-items-center rounded bg-sheet/90 text-[13px] leading-none text-muted opacity-0 group-hover:opacity-100 focus-visible:opacity-100 data-[state=open]:opacity-100"
        >
          ⋯
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            side="top"
            align="end"
            className="menu text-[13px]"
            onCloseAutoFocus={(event) => naming && event.preventDefault()}
          >
            <DropdownMenu.Item className="menu-item" onSelect={() => pin(entry.number)}>
              {place >= 0 ? "Unpin" : "Pin for side by side"}
            </DropdownMenu.Item>
            {!looking && (
              <>
                <DropdownMenu.Item className="menu-item" onSelect={() => setNaming(true)}>
                  Name this state
                </DropdownMenu.Item>
                <DropdownMenu.Item className="menu-item" onSelect={() => copy(entry.number)}>
                  Copy as a new comparison
                </DropdownMenu.Item>
              </>
            )}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </div>
  );
});
