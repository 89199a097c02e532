import { DropdownMenu } from "radix-ui";

/** A word of the sentence that is one of a few. */
export function OptionWord<T extends string>(props: {
  name: string;
  /** The recipe's path that it changes. */
  path: string;
  value: T;
  options: readonly T[];
  words: (option: T) => string;
  /** A key that goes on to the next option. */
  keys?: string;
  onChoose: (option: T) => void;
}) {
  const { name, path, value, options, words, keys, onChoose } = props;
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        data-path={path}
        aria-label={`${name}: ${words(value)}`}
        title={keys ? `Key ${keys} goes on to the next` : undefined}
        className="word-nothing whitespace-nowrap"
      >
        {words(value)}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" sideOffset={6} className="menu">
          <DropdownMenu.RadioGroup value={value} onValueChange={(option) => onChoose(option as T)}>
            {options.map((option) => (
              <DropdownMenu.RadioItem
                key={option}
                value={option}
                className="menu-item data-[state=checked]:font-bold data-[state=checked]:text-petrol"
              >
                {words(option)}
              </DropdownMenu.RadioItem>
            ))}
          </DropdownMenu.RadioGroup>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
