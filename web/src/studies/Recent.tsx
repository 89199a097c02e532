import { useQuery } from "@tanstack/react-query";
import { Link } from "wouter";
import { answer, api } from "../api/client";
import { Miniature } from "../scene/Miniature";

/** What this person had open last, pinned ones first. */
export function Recent() {
  const { data } = useQuery({
    queryKey: ["recent"],
    queryFn: () => answer(api.GET("/api/recent")),
    staleTime: 0,
  });
  if (!data?.length) return null;
  return (
    <section aria-label="Open last" className="mt-6">
      <h2 className="font-bold">Open last</h2>
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls is reached by key */}
      <ul className="mt-2 flex gap-3 overflow-x-auto p-1 pb-2" tabIndex={0} aria-label="Open last">
        {data.map((held) => (
          <li key={held.id} className="w-[152px] shrink-0">
            <Link
              href={`/comparisons/${held.id}`}
              className="block overflow-hidden rounded-lg bg-sheet shadow-sm hover:shadow-sheet"
              title={`${held.name}, ${held.study_name}`}
            >
              <div className="grid h-[96px] place-items-center border-b border-hairline p-2" aria-hidden="true">
                <Miniature comparison={held.id} state={held.changed} scale={1.25} />
              </div>
              <div className="truncate px-2.5 py-1.5 text-[13px] font-bold">
                {held.pinned && (
                  <span role="img" aria-label="pinned" className="text-petrol">
                    ◆{" "}
                  </span>
                )}
                {held.name}
              </div>
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}
