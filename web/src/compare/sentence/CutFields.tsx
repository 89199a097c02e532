import { useId } from "react";
import type { ColumnSummary, Recipe } from "../../api/generated";
import { Choice } from "../../ui/Choice";
import { Field } from "../../ui/Field";
import { typedNumbers } from "../../ui/numbers";
import { Row } from "../../ui/Row";

type Role = NonNullable<Recipe["panels"]["wrapped"]>;

const FIELD = "min-w-0 w-full rounded border border-hairline bg-sheet px-2 py-1";
const MOST_EDGES = 100;
const CLOSED = [
  { value: "left", name: "the class above" },
  { value: "right", name: "the class below" },
] as const;

/** A column of numbers cut into classes: at which edges, what the classes are called, and which one an edge belongs to. */
export function CutFields({
  column,
  role,
  part,
  onSettle,
}: {
  column: ColumnSummary;
  role: Role;
  part: string;
  onSettle: (next: Partial<Role>) => void;
}) {
  const id = useId();
  if (column.kind !== "measure") return null;
  const { cut } = role;
  const edges = (text: string) => {
    const typed = text === "" ? [] : typedNumbers(text);
    if (!typed || typed.length > MOST_EDGES) return false;
    const rising = [...new Set(typed)].sort((a, b) => a - b);
    const names = cut && rising.length === cut.edges.length ? cut.names : [];
    const next = rising.length ? { closed: "left" as const, ...cut, edges: rising, names } : null;
    onSettle({ cut: next, dropped: [], order: [] });
    return true;
  };
  const named = (text: string) => {
    const names = text === "" ? [] : text.split(";").map((name) => name.trim());
    if (!cut || (names.length && names.length !== cut.edges.length + 1)) return false;
    onSettle({ cut: { ...cut, names }, dropped: [], order: [], labels: {} });
    return true;
  };
  return (
    <div className="grid gap-2">
      <Row name="Classes at" id={`${id}edges`} path={`${part}.cut.edges`} help="Edges: 18; 40; 65">
        <Field
          id={`${id}edges`}
          placeholder="each value its own"
          value={cut?.edges.join("; ") ?? ""}
          onSettle={edges}
          className={`number ${FIELD}`}
        />
      </Row>
      {cut && (
        <>
          <Row
            name="Names"
            id={`${id}names`}
            path={`${part}.cut.names`}
            help={`${cut.edges.length + 1} names with semicolons between them`}
          >
            <Field
              id={`${id}names`}
              placeholder="from the edges"
              value={cut.names.join("; ")}
              onSettle={named}
              className={FIELD}
            />
          </Row>
          <Row name="An edge is in" path={`${part}.cut.closed`}>
            <Choice
              name="An edge is in"
              value={cut.closed ?? "left"}
              options={CLOSED}
              onChange={(closed) => onSettle({ cut: { ...cut, closed } })}
            />
          </Row>
        </>
      )}
    </div>
  );
}
