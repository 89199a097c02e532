import { answer, api } from "../api/client";
import type { ComparisonState, Recipe, Scene } from "../api/generated";
import { ShareDialog } from "../share/ShareDialog";
import { LockDialog } from "../ui/LockBar";
import { type Command, Commands } from "./commands/Commands";
import { KeyList } from "./commands/KeyList";
import { ExportDialog } from "./export/ExportDialog";
import { Measures } from "./many/Measures";
import { type Side, SideBySide } from "./many/SideBySide";
import type { useBench } from "./useBench";

/** What lies over the bench. */
export type OpenDialog =
  | "commands"
  | "keys"
  | "measures"
  | "export"
  | "share"
  | "lock"
  | { title: string; sides: Side[] };

interface Props {
  over: OpenDialog;
  comparison: ComparisonState;
  recipe: Recipe;
  scene: Scene | null;
  commands: () => Command[];
  viewer: boolean;
  bench: Pick<ReturnType<typeof useBench>, "settledHead" | "take">;
  onDialog: (over: OpenDialog | null) => void;
}

/** The dialog that is open. */
export function BenchDialogs({ over, comparison, recipe, scene, commands, viewer, bench, onDialog }: Props) {
  const onClose = () => onDialog(null);
  if (typeof over === "object") {
    return <SideBySide comparison={comparison.id} title={over.title} sides={over.sides} onClose={onClose} />;
  }
  switch (over) {
    case "commands":
      return <Commands commands={commands()} onClose={onClose} />;
    case "keys":
      return <KeyList onClose={onClose} />;
    case "measures":
      return <Measures comparison={comparison} recipe={recipe} onClose={onClose} />;
    case "lock":
      return (
        <LockDialog
          what="comparison"
          onLock={async (reason) =>
            bench.take(
              await answer(
                api.PUT("/api/comparisons/{comparison_id}/lock", {
                  params: { path: { comparison_id: comparison.id } },
                  body: { reason },
                }),
              ),
            )
          }
          onClose={onClose}
        />
      );
    case "share":
      return (
        <ShareDialog
          what={{ comparison: comparison.id }}
          name={comparison.name}
          study={comparison.study}
          owner={comparison.role === "owner"}
          onClose={onClose}
        />
      );
    case "export":
      return (
        scene && (
          <ExportDialog
            comparison={comparison}
            scene={scene}
            looking={viewer}
            settledHead={bench.settledHead}
            onLock={viewer || comparison.locked ? null : () => onDialog("lock")}
            onClose={onClose}
          />
        )
      );
  }
}
