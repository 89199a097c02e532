import { ToggleGroup } from "radix-ui";

/** A few words of which one holds. */
export function Choice<T extends string>(props: {
  name: string;
  value: T;
  options: readonly { value: T; name: string }[];
  onChange: (value: T) => void;
}) {
  return (
    <ToggleGroup.Root
      type="single"
      value={props.value}
      onValueChange={(value) => value && props.onChange(value as T)}
      aria-label={props.name}
      className="flex rounded-md bg-rail p-0.5"
    >
      {props.options.map((option) => (
        <ToggleGroup.Item
          key={option.value}
          value={option.value}
          className="flex-1 rounded px-1 py-1 text-center text-ink/80 max-xl:px-0.5 max-xl:text-[12px] data-[state=on]:bg-sheet data-[state=on]:font-bold data-[state=on]:text-ink data-[state=on]:shadow-sm"
        >
          {option.name}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
