import { useId } from "react";
import type { FolioState, SetFolio } from "../api/generated";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { Row } from "../ui/Row";

type Page = FolioState["page"];

const PAGES: { page: Page["page"]; name: string }[] = [
  { page: "two columns", name: "journal, two columns" },
  { page: "one and a half columns", name: "journal, one and a half" },
  { page: "one column", name: "journal, one column" },
  { page: "A4", name: "A4" },
  { page: "Letter", name: "Letter" },
  { page: "slide", name: "slide, 16:9" },
];
const COLUMNS = ["1", "2", "3", "4"].map((value) => ({ value, name: value }));
const LETTERS = [
  { value: "A", name: "A B C" },
  { value: "a", name: "a b c" },
  { value: "none", name: "none" },
] as const;
const TICKS = [
  { key: "one_axis", name: "One axis for figures of one measure" },
  { key: "note", name: "One method note for all" },
  { key: "key", name: "One reader’s key for all" },
] as const;
const FIELD = "w-full min-w-0 rounded border border-hairline bg-sheet px-2 py-1";

/** The page, its columns, and what all figures share. */
export function PageOptions(props: {
  folio: FolioState;
  looking: boolean;
  onKeep: (change: (now: FolioState) => Partial<SetFolio>) => void;
}) {
  const { folio, looking, onKeep } = props;
  const id = useId();
  const page = (change: Partial<Page>) => onKeep((now) => ({ page: { ...now.page, ...change } }));
  return (
    <fieldset disabled={looking} className="grid grid-cols-[minmax(0,1fr)] gap-2.5">
      <Row name="Name" id={`${id}name`}>
        <Field
          id={`${id}name`}
          value={folio.name}
          maxLength={200}
          onSettle={(name) => {
            if (name) onKeep(() => ({ name }));
            return name !== "";
          }}
          className={FIELD}
        />
      </Row>
      <Row name="Page" id={`${id}page`}>
        <select
          id={`${id}page`}
          value={folio.page.page}
          onChange={(event) => page({ page: event.target.value as Page["page"] })}
          className={FIELD}
        >
          {PAGES.map((one) => (
            <option key={one.page} value={one.page}>
              {one.name}
            </option>
          ))}
        </select>
      </Row>
      <Row name="Title" id={`${id}title`}>
        <Field
          id={`${id}title`}
          value={folio.page.title}
          maxLength={500}
          onSettle={(title) => {
            page({ title });
            return true;
          }}
          className={FIELD}
        />
      </Row>
      <Row name="Columns">
        <Choice
          name="Columns"
          value={String(folio.page.columns)}
          options={COLUMNS}
          onChange={(columns) => page({ columns: Number(columns) })}
        />
      </Row>
      <Row name="Letters">
        <Choice
          name="Letters"
          value={folio.page.letters}
          options={LETTERS}
          onChange={(letters) => page({ letters })}
        />
      </Row>
      {TICKS.map(({ key, name }) => (
        <label key={key} className="flex items-center gap-2">
          <input
            type="checkbox"
            className="size-4 accent-petrol"
            checked={folio.page[key]}
            onChange={(event) => page({ [key]: event.target.checked })}
          />
          {name}
        </label>
      ))}
    </fieldset>
  );
}
