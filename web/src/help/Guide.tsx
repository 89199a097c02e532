import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { type Place, pageOf, pictureOf } from "./guide";

/** A page of the guide: headings, paragraphs, words with their meanings, pictures. */
export function Guide({ place }: { place: Place }) {
  const { data } = useQuery({
    queryKey: ["guide", place],
    queryFn: () => pageOf(place),
    staleTime: Number.POSITIVE_INFINITY,
  });
  if (data === undefined) return <p className="text-muted">Opening…</p>;
  return (
    <div className="grid gap-3">
      {data.split(/\n{2,}/).map((block) => (
        <Block key={block} text={block.trim()} />
      ))}
    </div>
  );
}

function Block({ text }: { text: string }) {
  const picture = /^!\[(.*)\]\((.+)\)$/.exec(text);
  if (picture) return <Picture words={picture[1] ?? ""} path={picture[2] ?? ""} />;
  // The title is the dialog's own.
  if (text.startsWith("# ")) return null;
  if (text.startsWith("## ")) return <h3 className="mt-2 text-[15px] font-bold">{text.slice(3)}</h3>;
  if (text.startsWith("- "))
    return (
      <ul className="grid list-disc gap-1 pl-5">
        {text
          .slice(2)
          .split(/\n- /)
          .map((point) => (
            <li key={point}>{strong(point)}</li>
          ))}
      </ul>
    );
  return <p>{strong(text)}</p>;
}

/** A text with **words** set apart. */
function strong(text: string): ReactNode[] {
  return text
    .replace(/\s*\n\s*/g, " ")
    .split(/\*\*/)
    .map((part, place) => (place % 2 ? <strong key={part}>{part}</strong> : part));
}

function Picture({ words, path }: { words: string; path: string }) {
  const { data } = useQuery({
    queryKey: ["guide picture", path],
    queryFn: () => pictureOf(path),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return data ? <img src={data} alt={words} className="w-full rounded border border-hairline" /> : null;
}
