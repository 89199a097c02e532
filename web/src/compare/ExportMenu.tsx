import { download } from "../api/download";
import { FormatMenu } from "../ui/FormatMenu";
import { tell } from "../ui/Notices";

const FORMATS = [
  { format: "svg", name: "SVG", help: "vector, text stays text" },
  { format: "pdf", name: "PDF", help: "vector, fonts embedded" },
  { format: "png", name: "PNG", help: "300 dpi" },
  { format: "recipe", name: "Recipe", help: "JSON; with the raw file it redraws the figure" },
] as const;

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
    <FormatMenu
      name="Export"
      className="ml-1 bg-accent font-bold text-ink hover:brightness-105"
      formats={FORMATS}
      onChoose={(format) => void save(format).catch(tell)}
    />
  );
}
