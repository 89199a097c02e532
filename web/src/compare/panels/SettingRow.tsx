import { useId } from "react";
import type { ColumnSummary, Setting } from "../../api/generated";
import { Amount } from "../../ui/Amount";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Field } from "../../ui/Field";
import { typedNumber, typedNumbers } from "../../ui/numbers";
import { Row } from "../../ui/Row";

interface Props {
  setting: Setting;
  value: unknown;
  columns: ColumnSummary[];
  /** Other words for options, such as Left for above where lanes run up. */
  words: Record<string, string>;
  onMove: (value: unknown) => void;
  onRest: (value: unknown) => void;
  onSettle: (value: unknown) => void;
}

const MOST_CHOICES = 3;
/** So many letters stand side by side in the narrowest panel. */
const MOST_LETTERS = 16;
const FIELD = "number w-full rounded border border-hairline bg-sheet px-2 py-1";

/** One setting of a layer, in the control that fits what it takes. */
export function SettingRow({ setting, value, columns, words, onMove, onRest, onSettle }: Props) {
  const id = useId();
  const { name, meaning } = setting;
  const called = { ...setting.words, ...words };
  switch (setting.kind) {
    case "amount":
      return (
        <Amount
          name={name}
          help={meaning}
          least={setting.least}
          most={setting.most}
          step={setting.step}
          value={value as number}
          onMove={onMove}
          onRest={onRest}
          onSettle={onSettle}
        />
      );
    case "choice": {
      const options = setting.options.map(String);
      const letters = options.map((option) => called[option] ?? option).join("").length;
      const short = options.length <= MOST_CHOICES && letters <= MOST_LETTERS && !setting.optional;
      if (short) {
        const named = options.map((option) => ({ value: option, name: called[option] ?? option }));
        return (
          <Row name={name} help={meaning}>
            <Choice
              name={name}
              value={String(value)}
              options={named}
              onChange={(v) => onSettle(typed(setting, v))}
            />
          </Row>
        );
      }
      return (
        <Row name={name} id={id} help={meaning}>
          <Select
            id={id}
            value={value === null || value === undefined ? "" : String(value)}
            options={options}
            words={called}
            nothing={setting.optional ? "automatic" : null}
            onChange={(v) => onSettle(v === "" ? null : typed(setting, v))}
          />
        </Row>
      );
    }
    case "yes-no":
      if (setting.optional)
        return (
          <Row name={name} id={id} help={meaning}>
            <Select
              id={id}
              value={value === null || value === undefined ? "" : value ? "yes" : "no"}
              options={["yes", "no"]}
              words={called}
              nothing="automatic"
              onChange={(v) => onSettle(v === "" ? null : v === "yes")}
            />
          </Row>
        );
      return (
        <Row name={name} id={id} help={meaning}>
          <input
            id={id}
            type="checkbox"
            checked={value === true}
            onChange={(event) => onSettle(event.target.checked)}
            className="size-4 accent-petrol"
          />
        </Row>
      );
    case "colour":
      return (
        <Row name={name} id={id} help={meaning}>
          <span className="flex items-center gap-2">
            <input
              id={id}
              type="color"
              value={(value as string | null)?.toLowerCase() ?? "#5d6b73"}
              onChange={(event) => onRest(event.target.value)}
              className="size-6 shrink-0 rounded border border-hairline bg-sheet"
            />
            {value !== null && setting.optional && (
              <Button look="quiet" className="!p-0 !font-normal" onClick={() => onSettle(null)}>
                Reset
              </Button>
            )}
          </span>
        </Row>
      );
    case "column":
      return (
        <Row name={name} id={id} help={meaning}>
          <Select
            id={id}
            value={(value as string | null) ?? ""}
            options={columns.map((column) => column.name)}
            words={{}}
            nothing="nothing"
            onChange={(v) => onSettle(v === "" ? null : v)}
          />
        </Row>
      );
    case "text":
      return (
        <Row name={name} id={id} help={meaning}>
          <Field
            id={id}
            placeholder="nothing"
            value={(value as string | null) ?? ""}
            onSettle={(text) => {
              onSettle(text.trim() === "" ? null : text.trim());
              return true;
            }}
            className={FIELD}
          />
        </Row>
      );
    case "texts":
      return (
        <Row name={name} id={id} help={meaning}>
          <Field
            id={id}
            placeholder="one; two; …"
            value={written(value)}
            onSettle={(text) => {
              const words = text.split(";").map((word) => word.trim());
              onSettle(words.filter(Boolean));
              return true;
            }}
            className={FIELD}
          />
        </Row>
      );
    case "number":
    case "numbers":
      return (
        <Row name={name} id={id} help={meaning}>
          <Field
            id={id}
            inputMode="decimal"
            placeholder={setting.optional ? "automatic" : ""}
            list={setting.options.length ? `${id}options` : undefined}
            value={written(value)}
            onSettle={(text) => settleNumbers(setting, text, onSettle)}
            className={FIELD}
          />
          {setting.options.length > 0 && (
            <datalist id={`${id}options`}>
              {setting.options.map((option) => (
                <option key={option} value={option} />
              ))}
            </datalist>
          )}
        </Row>
      );
  }
}

function typed(setting: Setting, text: string): string | number {
  return setting.options.find((option) => String(option) === text) ?? text;
}

function written(value: unknown): string {
  return Array.isArray(value) ? value.join("; ") : value === null ? "" : String(value);
}

/** Several numbers, or the word of an option. */
function settleNumbers(setting: Setting, text: string, onSettle: (value: unknown) => void): boolean {
  if (!text.trim()) {
    if (setting.optional) onSettle(null);
    return setting.optional;
  }
  const option = setting.options.find((option) => String(option) === text.trim());
  const numbers = setting.kind === "number" ? [typedNumber(text)] : typedNumbers(text);
  const read = option ?? (setting.kind === "number" ? numbers?.[0] : numbers);
  if (read === null || read === undefined) return false;
  onSettle(read);
  return true;
}

function Select(props: {
  id: string;
  value: string;
  options: string[];
  words: Record<string, string>;
  nothing: string | null;
  onChange: (value: string) => void;
}) {
  return (
    <select
      id={props.id}
      value={props.value}
      onChange={(event) => props.onChange(event.target.value)}
      className="w-full min-w-0 rounded border border-hairline bg-sheet px-2 py-1"
    >
      {props.nothing !== null && <option value="">{props.nothing}</option>}
      {props.options.map((option) => (
        <option key={option} value={option}>
          {props.words[option] ?? option}
        </option>
      ))}
    </select>
  );
}
