import { Button } from "../ui/Button";

interface Props {
  words: string;
  /** What the bar counts, for whoever hears it. */
  label: string;
  done: number;
  of: number;
  /** Whether it goes on, and what stops it or goes on with it; nobody may where there is none. */
  goes: boolean;
  onTurn?: () => void;
}

/** Work that the figure waits for: how far it is, with a way to stop it and to go on. */
export function WorkBar({ words, label, done, of, goes, onTurn }: Props) {
  return (
    <div role="status" className="flex shrink-0 items-center gap-3 border-b border-hairline bg-sheet px-5 py-2">
      <span>{words}</span>
      <progress
        max={of}
        value={done}
        className="h-1.5 w-48 overflow-hidden rounded-full [&::-webkit-progress-bar]:bg-hairline [&::-webkit-progress-value]:bg-petrol"
        aria-label={label}
      />
      {onTurn && (
        <Button look="quiet" className="!p-0" onClick={onTurn}>
          {goes ? "Stop" : "Go on"}
        </Button>
      )}
    </div>
  );
}
