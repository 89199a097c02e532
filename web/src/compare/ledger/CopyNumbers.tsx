import { useState } from "react";
import type { Scene } from "../../api/generated";
import { Button } from "../../ui/Button";
import { tell } from "../../ui/Notices";
import { copyLedger } from "./copyLedger";

/** Copies the ledger, and says so until the figure changes. */
export function CopyNumbers({ scene }: { scene: Scene }) {
  const [copied, setCopied] = useState<Scene | null>(null);
  return (
    <Button look="quiet" className="!p-0" onClick={() => copyLedger(scene).then(() => setCopied(scene), tell)}>
      {copied === scene ? "Copied" : "Copy numbers"}
    </Button>
  );
}
