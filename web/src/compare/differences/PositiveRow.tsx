import { useId } from "react";
import { Field } from "../../ui/Field";
import { typedNumber } from "../../ui/numbers";
import { Row } from "../../ui/Row";

/** A number above zero, or none. */
export function PositiveRow(props: {
  name: string;
  help: string;
  path: string;
  value: number | null;
  onSettle: (value: number | null) => void;
}) {
  const { name, help, path, value, onSettle } = props;
  const id = useId();
  return (
    <Row name={name} id={id} help={help} path={path}>
      <Field
        id={id}
        inputMode="decimal"
        placeholder="none"
        value={value === null ? "" : String(value)}
        onSettle={(text) => {
          const typed = typedNumber(text);
          if (text !== "" && (typed === null || typed <= 0)) return false;
          onSettle(typed);
          return true;
        }}
        className="number min-w-0 rounded border border-hairline bg-sheet px-2 py-1"
      />
    </Row>
  );
}
