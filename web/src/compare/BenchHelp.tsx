import { Help } from "../help/Help";
import { KeyList } from "./commands/KeyList";

/** Help for the bench, with its keys. */
export function BenchHelp({ onClose }: { onClose: () => void }) {
  return (
    <Help place="compare" onClose={onClose}>
      <KeyList />
    </Help>
  );
}
