import { DropdownMenu } from "radix-ui";
import { Refused } from "../api/client";
import { tell } from "../ui/Notices";

const FORMATS = [
  { format: "svg", name: "SVG", help: "vector, text stays text" },
  { format: "pdf", name: "PDF", help: "vector, fonts embedded" },
  { format: "png", name: "PNG", help: "300 dpi" },
  { format: "recipe", name: "Recipe", help: "JSON; with the raw file it redraws the figure" },
] as const;

async function download(path: string): Promise<void> {
  const response = await fetch(path);
  if (!response.ok) throw new Refused(response.status, await response.json());
  const name = /filename="([^"]+)"/.exec(response.headers.get("Content-Disposition") ?? "")?.[1] ?? "figure";
  const link = document.createElement("a");
  link.href = URL.createObjectURL(await response.blob());
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
}

/** The figure of the shown state as a file. */
export function ExportMenu({
  comparison,
  settledHead,
}: {
  comparison: string;
  settledHead: () => Promise<number | null>;
}) {
  const save = async (format: string) => {
    await download(`/api/comparisons/${comparison}/export/${format}?entry=${await settledHead()}`);
  };
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="ml-1 rounded-md bg-accent px-3 py-1.5 font-bold text-ink hover:brightness-105">
        Export
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={6}
          className="z-30 w-80 rounded-lg bg-sheet p-1.5 shadow-float"
        >
          {FORMATS.map(({ format, name, help }) => (
            <DropdownMenu.Item
              key={format}
              onSelect={() => void save(format).catch(tell)}
              className="flex cursor-pointer items-baseline gap-3 rounded px-3 py-2 outline-none data-[highlighted]:bg-bench"
            >
              <span className="w-14 font-bold">{name}</span>
              <span className="text-muted">{help}</span>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
