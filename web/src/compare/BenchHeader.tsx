import { DropdownMenu } from "radix-ui";
import { Link } from "wouter";
import { answer, api } from "../api/client";
import { Bring } from "../studies/Bring";
import { useStudies } from "../studies/useStudies";
import { Button } from "../ui/Button";
import { Header } from "../ui/Header";
import { Named } from "../ui/Named";
import type { OpenDialog } from "./BenchDialogs";
import { useBenchActions, useBenchState, useComparison, useRights } from "./store/BenchContext";

/** Where the comparison stands, and what is done with the whole of it. */
export function BenchHeader() {
  const comparison = useComparison();
  const { member, looking, rows } = useRights();
  const { id, step, look, take } = useBenchActions();
  const drawn = useBenchState((state) => state.scene !== null);
  const unsaved = useBenchState((state) => state.unsaved);
  const away = useBenchState((state) => state.away);
  const studies = useStudies();
  const onDialog = (dialog: OpenDialog) => look({ dialog });
  const rename = async (name: string) =>
    take(
      await answer(
        api.PATCH("/api/comparisons/{comparison_id}", { params: { path: { comparison_id: id } }, body: { name } }),
      ),
    );
  return (
    <Header
      place={
        <>
          <Link href={`/studies/${comparison.study}`} className="truncate hover:underline">
            {comparison.study_name}
          </Link>
          <span aria-hidden="true">/</span>
          <h1 className="min-w-0 text-sheet">
            <Named name={comparison.name} what="comparison" onName={looking ? null : rename} dark />
          </h1>
          <Link
            href={`/tables/${comparison.table}`}
            className="truncate text-[12px] text-sheet/70 underline decoration-accent underline-offset-4"
          >
            {comparison.table_name}
          </Link>
        </>
      }
    >
      <Others />
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
        <Bring studies={studies} first={comparison.study} trigger={<Button look="dark">Bring a table</Button>} />
      )}
      {rows && (
        <Button look="dark" onClick={() => onDialog("remarks")} title="What people say of this figure">
          Remarks{comparison.open_remarks > 0 && ` ${comparison.open_remarks}`}
        </Button>
      )}
      <More />
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
      {member && (
        <Button look="dark" onClick={() => onDialog("share")} title="A link for people outside the study">
          Share
        </Button>
      )}
      <Button className="ml-1" disabled={!drawn} onClick={() => onDialog("export")}>
        Export
      </Button>
    </Header>
  );
}

/** Who else has the comparison open: a quiet sign. */
function Others() {
  const others = useBenchState((state) => state.others);
  if (others.length === 0) return null;
  return (
    <span
      role="status"
      className="flex items-center gap-1.5 px-1 text-[12.5px] text-sheet/80"
      title={others.join(", ")}
    >
      <span aria-hidden="true" className="size-2 rounded-full bg-accent" />
      {others.length === 1 ? others[0] : `${others.length} people`} too
    </span>
  );
}

/** What is done with the whole of it less often. */
function More() {
  const comparison = useComparison();
  const { member, looking } = useRights();
  const { id, look, saveMeta } = useBenchActions();
  const params = { path: { comparison_id: id } };
  const pin = () =>
    saveMeta(
      answer(api.PUT("/api/comparisons/{comparison_id}/pin", { params, body: { pinned: !comparison.pinned } })),
    );
  const watch = () =>
    saveMeta(
      answer(api.PATCH("/api/comparisons/{comparison_id}", { params, body: { watched: !comparison.watched } })),
    );
  const items: [boolean, string, () => void][] = [
    [!looking, "All measures", () => look({ dialog: "measures" })],
    [member, "The same question of another table", () => look({ dialog: "same question" })],
    [true, "Notes, tags, versions, where it is used", () => look({ dialog: "about" })],
    [true, comparison.pinned ? "Unpin it" : "Pin it: it comes first among those open last", pin],
    [member, comparison.watched ? "Watch it no more" : "Watch it: say so when newer data break it", watch],
    [true, "Help", () => look({ dialog: "help" })],
  ];
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="rounded-md px-3 py-1.5 text-sheet hover:bg-sheet/10">
        More
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" className="menu text-[13px]">
          {items.map(
            ([offered, name, run]) =>
              offered && (
                <DropdownMenu.Item key={name} className="menu-item" onSelect={run}>
                  {name}
                </DropdownMenu.Item>
              ),
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
