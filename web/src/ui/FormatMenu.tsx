import { DropdownMenu } from "radix-ui";

/** A way to take something out. */
export interface Format<T extends string> {
  format: T;
  name: string;
  help: string;
}

/** A button that offers formats, each with what it is good for. */
export function FormatMenu<T extends string>(props: {
  name: string;
  className: string;
  formats: readonly Format<T>[];
  onChoose: (format: T) => void;
}) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className={`rounded-md px-3 py-1.5 whitespace-nowrap ${props.className}`}>
        {props.name}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" sideOffset={6} className="menu">
          {props.formats.map(({ format, name, help }) => (
            <DropdownMenu.Item key={format} className="menu-item" onSelect={() => props.onChoose(format)}>
              <span className="w-16 font-bold">{name}</span>
              <span className="text-muted">{help}</span>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
