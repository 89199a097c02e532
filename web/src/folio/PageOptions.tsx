import { useId } from "react";
import type { FolioState } from "../api/generated";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { PickRow } from "../ui/PickRow";
import { Row } from "../ui/Row";
import { Tick } from "../ui/Tick";
import { useFolio, useFolioActions } from "./FolioContext";

type Page = FolioState["page"];

const PAGES: { page: Page["page"]; name: string }[] = [
  { page: "two columns", name: "journal, 2 columns" },
  { page: "one and a half columns", name: "journal, 1½ columns" },
  { page: "one column", name: "journal, 1 column" },
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
export function PageOptions() {
  const { folio, looking } = useFolio();
  const { keep } = useFolioActions();
  const id = useId();
  const page = (change: Partial<Page>) => keep((now) => ({ page: { ...now.page, ...change } }));
  return (
    <fieldset disabled={looking} className="grid grid-cols-[minmax(0,1fr)] gap-2.5">
      <Row name="Name" id={`${id}name`}>
        <Field
          id={`${id}name`}
          value={folio.name}
          maxLength={200}
          onSettle={(name) => {
            if (name) keep(() => ({ name }));
            return name !== "";
          }}
          className={FIELD}
        />
      </Row>
      <PickRow
        name="Page"
        value={folio.page.page}
        options={PAGES.map((page) => page.page)}
        words={(name) => PAGES.find((page) => page.page === name)?.name ?? name}
        onPick={(name) => name && page({ page: name })}
      />
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
        <Tick key={key} name={name} on={folio.page[key]} onChange={(on) => page({ [key]: on })} />
      ))}
    </fieldset>
  );
}
