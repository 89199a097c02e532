import { type KeyboardEvent, useId, useMemo, useRef, useState } from "react";
import { Modal } from "../../ui/Modal";

/** Something that can be done, found by its words. */
export interface Command {
  words: string;
  /** What kind of thing it is: form, column, layer, comparison … */
  kind: string;
  keys?: string;
  /** Other words that it is found by. */
  find?: string;
  run: () => void;
}

const MOST = 60;

interface Props {
  commands: Command[];
  onClose: () => void;
}

/** Every action, column and comparison, found by typing. */
export function Commands({ commands, onClose }: Props) {
  const [search, setSearch] = useState("");
  const [at, setAt] = useState(0);
  const id = useId();
  const list = useRef<HTMLDivElement>(null);
  const matches = useMemo(() => {
    const parts = search.toLowerCase().split(/\s+/).filter(Boolean);
    const holds = (command: Command) => {
      const text = `${command.kind} ${command.words} ${command.find ?? ""}`.toLowerCase();
      return parts.every((part) => text.includes(part));
    };
    // What is called so comes before what only means something like it.
    const named = (command: Command) => parts.every((part) => command.words.toLowerCase().includes(part));
    const found = commands.filter(holds);
    return [...found.filter(named), ...found.filter((command) => !named(command))].slice(0, MOST);
  }, [commands, search]);
  const run = (command: Command | undefined) => {
    if (!command) return;
    onClose();
    command.run();
  };
  const onKey = (event: KeyboardEvent) => {
    const moves: Record<string, number> = { ArrowDown: at + 1, ArrowUp: at - 1, Home: 0, End: matches.length - 1 };
    const to = moves[event.key];
    if (to !== undefined) {
      const next = Math.max(0, Math.min(matches.length - 1, to));
      setAt(next);
      list.current?.children[next]?.scrollIntoView({ block: "nearest" });
    } else if (event.key === "Enter") run(matches[at]);
    else return;
    event.preventDefault();
  };
  return (
    <Modal
      title="Find an action, a setting, a column or a comparison"
      words="Type a few letters, choose with the arrow keys."
      quiet
      className="top-[12vh] w-[36rem] bg-sheet p-2"
      onClose={onClose}
    >
      <input
        role="combobox"
        aria-expanded="true"
        aria-controls={id}
        aria-activedescendant={matches.length ? `${id}-${at}` : undefined}
        aria-label="Find"
        placeholder="An action, a setting, a column, a comparison …"
        value={search}
        onChange={(event) => {
          setSearch(event.target.value);
          setAt(0);
        }}
        onKeyDown={onKey}
        className="mb-2 w-full rounded border border-hairline px-3 py-2 text-[15px]"
      />
      <div ref={list} id={id} role="listbox" aria-label="Found" className="max-h-[52vh] overflow-y-auto">
        {matches.map((command, place) => (
          <div
            key={`${command.kind} ${command.words}`}
            id={`${id}-${place}`}
            role="option"
            aria-selected={place === at}
            onClick={() => run(command)}
            onKeyDown={onKey}
            onMouseMove={() => setAt(place)}
            className={`flex items-baseline gap-3 rounded px-3 py-1.5 ${place === at ? "bg-bench" : ""}`}
          >
            <span className="w-24 shrink-0 text-[12.5px] text-muted">{command.kind}</span>
            <span className="flex-1 truncate">{command.words}</span>
            {command.keys && <kbd className="number text-[12px] text-muted">{command.keys}</kbd>}
          </div>
        ))}
        {matches.length === 0 && <p className="px-3 py-3 text-muted">Nothing is called that.</p>}
      </div>
    </Modal>
  );
}
