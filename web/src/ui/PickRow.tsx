import { useId } from "react";
import { Row } from "./Row";

/** One of a few words, or none where nothing has a name. */
export function PickRow<T extends string>(props: {
  name: string;
  help?: string;
  path?: string;
  value: T | null;
  options: readonly T[];
  nothing?: string;
  words?: (option: T) => string;
  onPick: (value: T | null) => void;
}) {
  const { name, help, path, value, options, nothing, words, onPick } = props;
  const id = useId();
  return (
    <Row name={name} id={id} path={path} {...(help ? { help } : {})}>
      <select
        id={id}
        value={value ?? ""}
        onChange={(event) => onPick(options.find((option) => option === event.target.value) ?? null)}
        className="w-full min-w-0 rounded border border-hairline bg-sheet px-2 py-1"
      >
        {nothing !== undefined && <option value="">{nothing}</option>}
        {options.map((option) => (
          <option key={option} value={option}>
            {words ? words(option) : option}
          </option>
        ))}
      </select>
    </Row>
  );
}
