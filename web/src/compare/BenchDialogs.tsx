import { answer, api } from "../api/client";
import { LockDialog } from "../ui/LockBar";
import { later } from "../ui/later";
import { Commands } from "./commands/Commands";
import { useCommands } from "./commands/useCommands";
import type { Side } from "./many/SideBySide";
import { useBenchActions, useBenchState, useRights, useShown } from "./store/BenchContext";

// What is typed at once goes into the commands; the others' code comes when they are opened first.
const About = later(() => import("./together/About").then((module) => module.About));
const BenchHelp = later(() => import("./BenchHelp").then((module) => module.BenchHelp));
const ExportDialog = later(() => import("./export/ExportDialog").then((module) => module.ExportDialog));
const Measures = later(() => import("./many/Measures").then((module) => module.Measures));
const RemarksPanel = later(() => import("./together/RemarksPanel").then((module) => module.RemarksPanel));
const SameQuestion = later(() => import("./together/SameQuestion").then((module) => module.SameQuestion));
const ShareDialog = later(() => import("../share/ShareDialog").then((module) => module.ShareDialog));
const SideBySide = later(() => import("./many/SideBySide").then((module) => module.SideBySide));

/** What lies over the bench. */
export type OpenDialog =
  | "commands"
  | "help"
  | "remarks"
  | "same question"
  | "about"
  | "measures"
  | "export"
  | "share"
  | "lock"
  | { title: string; sides: Side[] };

/** The dialog that is open. */
export function BenchDialogs() {
  const over = useBenchState((state) => state.dialog);
  return over === null ? null : <Dialog over={over} />;
}

function Dialog({ over }: { over: OpenDialog }) {
  const { comparison, recipe } = useShown();
  const { member, rows } = useRights();
  const { look, take, settledHead, store } = useBenchActions();
  const scene = useBenchState((state) => state.scene);
  const commands = useCommands();
  const onClose = () => look({ dialog: null });
  if (typeof over === "object") {
    return <SideBySide comparison={comparison.id} title={over.title} sides={over.sides} onClose={onClose} />;
  }
  switch (over) {
    case "commands":
      return <Commands commands={commands()} onClose={onClose} />;
    case "help":
      return <BenchHelp onClose={onClose} />;
    case "remarks":
      return rows && <RemarksPanel onClose={onClose} />;
    case "same question":
      return <SameQuestion onClose={onClose} />;
    case "about":
      return <About onClose={onClose} />;
    case "measures":
      return <Measures comparison={comparison} recipe={recipe} onClose={onClose} />;
    case "lock":
      return (
        <LockDialog
          what="comparison"
          onLock={async (signature) => {
            // What was seen, once it is kept: whatever came since is refused.
            await settledHead();
            const { revision, digest } = store.getState().comparison ?? comparison;
            const body = { ...signature, revision, state: digest };
            const params = { path: { comparison_id: comparison.id } };
            take(await answer(api.PUT("/api/comparisons/{comparison_id}/lock", { params, body })));
          }}
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
            looking={!rows}
            settledHead={settledHead}
            onLock={!member || comparison.locked ? null : () => look({ dialog: "lock" })}
            onClose={onClose}
          />
        )
      );
  }
}
