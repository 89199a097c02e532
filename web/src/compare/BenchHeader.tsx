import { Link } from "wouter";
import { Bring } from "../studies/Bring";
import { useStudies } from "../studies/useStudies";
import { Button } from "../ui/Button";
import { Header } from "../ui/Header";
import type { OpenDialog } from "./BenchDialogs";
import { useBenchActions, useBenchState, useRights, useShown } from "./store/BenchContext";

/** Where the comparison stands, and what is done with the whole of it. */
export function BenchHeader() {
  const { comparison } = useShown();
  const { viewer, looking } = useRights();
  const { step, look } = useBenchActions();
  const unsaved = useBenchState((state) => state.unsaved);
  const away = useBenchState((state) => state.away);
  const studies = useStudies();
  const onDialog = (dialog: OpenDialog) => look({ dialog });
  return (
    <Header
      place={
        <>
          <Link href={`/studies/${comparison.study}`} className="truncate hover:underline">
            {comparison.study_name}
          </Link>
          <span aria-hidden="true">/</span>
          <h1 className="truncate text-sheet">{comparison.name}</h1>
          <Link
            href={`/tables/${comparison.table}`}
            className="truncate text-[12px] text-sheet/70 underline decoration-accent underline-offset-4"
          >
            {comparison.table_name}
          </Link>
        </>
      }
    >
      {(unsaved ?? away) && (
        <span
          role="status"
          className="rounded bg-accent px-2 py-0.5 text-[12.5px] text-ink"
          title={`${unsaved ?? away}.`}
        >
          {unsaved ? "Not kept yet" : "Waiting for the server"}
        </span>
      )}
      <Button look="dark" onClick={() => onDialog("commands")} title="Ctrl K">
        Find
      </Button>
      {!looking && (
        <>
          <Bring studies={studies} first={comparison.study} trigger={<Button look="dark">Bring a table</Button>} />
          <Button look="dark" onClick={() => onDialog("measures")} title="The same figure for every measure: M">
            All measures
          </Button>
        </>
      )}
      <Button
        look="dark"
        disabled={comparison.undo === null || looking}
        onClick={() => step("undo")}
        title="Ctrl Z"
      >
        Undo
      </Button>
      <Button
        look="dark"
        disabled={comparison.redo === null || looking}
        onClick={() => step("redo")}
        title="Ctrl Shift Z"
      >
        Redo
      </Button>
      {!viewer && (
        <Button look="dark" onClick={() => onDialog("share")} title="A link for people outside the study">
          Share
        </Button>
      )}
      <Button className="ml-1" onClick={() => onDialog("export")}>
        Export
      </Button>
    </Header>
  );
}
