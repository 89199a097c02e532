import { type ReactNode, useState } from "react";
import { Button } from "./Button";
import { tell } from "./Notices";

interface Props {
  text: string;
  /** What they are about, such as "study". */
  what: string;
  /** Other notes are kept; null where nobody may write. */
  onText: ((text: string) => Promise<unknown>) | null;
}

/** Notes in plain text with simple marks: **strong**, *stressed*, and lines that begin with a dash. */
export function Notes({ text, what, onText }: Props) {
  const [written, setWritten] = useState<string | null>(null);
  if (written !== null && onText) {
    const keep = () => onText(written.trim()).then(() => setWritten(null), tell);
    return (
      <div className="grid gap-2">
        <textarea
          // biome-ignore lint/a11y/noAutofocus: whoever asked to write goes on writing
          autoFocus
          aria-label={`Notes of the ${what}`}
          value={written}
          rows={4}
          maxLength={20_000}
          onChange={(event) => setWritten(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === "Escape") setWritten(null);
            if (event.key === "Enter" && event.ctrlKey) void keep();
          }}
          className="w-full rounded border border-hairline bg-sheet px-3 py-2 [field-sizing:content]"
        />
        <p className="flex items-center gap-4 text-[13px] text-muted">
          <Button onClick={() => void keep()}>Keep the notes</Button>
          <Button look="quiet" className="!p-0 !font-normal" onClick={() => setWritten(null)}>
            Leave them as they were
          </Button>
          **strong**, *stressed*, “- ” begins a point
        </p>
      </div>
    );
  }
  if (!text && !onText) return null;
  return (
    <div className="group/notes grid max-w-[46rem] gap-1">
      {text && <Marked text={text} />}
      {onText && (
        <Button
          look="quiet"
          className="justify-self-start !p-0 text-[13px] !font-normal"
          aria-label={`${text ? "Change" : "Write"} notes of the ${what}`}
          onClick={() => setWritten(text)}
        >
          {text ? "Change the notes" : "+ Notes"}
        </Button>
      )}
    </div>
  );
}

/** Lines as paragraphs, those with a dash as points. */
function Marked({ text }: { text: string }) {
  return (
    <div className="grid gap-1 whitespace-pre-wrap">
      {text.split("\n").map((line, place) => {
        const point = /^\s*[-•] /.test(line);
        return (
          <p key={place} className={point ? "pl-4 -indent-3" : ""}>
            {point ? <>– {stressed(line.replace(/^\s*[-•] /, ""))}</> : stressed(line)}
          </p>
        );
      })}
    </div>
  );
}

/** A line with its marks: text only, whatever else stands in it. */
function stressed(line: string): ReactNode[] {
  return line.split(/(\*\*[^*]+\*\*|\*[^*]+\*)/).map((part, place) => {
    // biome-ignore-start lint/suspicious/noArrayIndexKey: parts have no other name
    if (part.startsWith("**") && part.length > 4) return <strong key={place}>{part.slice(2, -2)}</strong>;
    if (part.startsWith("*") && part.length > 2) return <em key={place}>{part.slice(1, -1)}</em>;
    // biome-ignore-end lint/suspicious/noArrayIndexKey: parts have no other name
    return part;
  });
}
