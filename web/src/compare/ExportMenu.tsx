import { FormatMenu } from "../ui/FormatMenu";

const FORMATS = [
  { format: "svg", name: "SVG", help: "vector, text stays text" },
  { format: "pdf", name: "PDF", help: "vector, fonts embedded" },
  { format: "png", name: "PNG", help: "300 dpi" },
  { format: "recipe", name: "Recipe", help: "JSON; with the raw file it redraws the figure" },
] as const;

/** The figure of the shown state as a file. */
export function ExportMenu({ onExport }: { onExport: (format: string) => void }) {
  return (
    <FormatMenu
      name="Export"
      className="ml-1 bg-accent font-bold text-ink hover:brightness-105"
      formats={FORMATS}
      onChoose={onExport}
    />
  );
}
