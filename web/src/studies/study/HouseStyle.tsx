import { useQuery } from "@tanstack/react-query";
import { answer, api } from "../../api/client";

/** The look that the study's figures have, and the guides that it keeps; both are changed beside a figure. */
export function HouseStyle({ study }: { study: string }) {
  const params = { path: { study_id: study } };
  const { data: house } = useQuery({
    queryKey: ["house", study],
    queryFn: () => answer(api.GET("/api/studies/{study_id}/house", { params })),
    staleTime: 0,
  });
  const { data: kept } = useQuery({
    queryKey: ["kept guides", study],
    queryFn: () => answer(api.GET("/api/studies/{study_id}/guides", { params })),
    staleTime: 0,
  });
  if (!house || !kept) return null;
  const { typeface, text_size: size, lane_colours: colours, ground } = house.style;
  return (
    <section aria-label="House style and guides" className="mt-8 grid justify-items-start gap-2">
      <h2 className="text-lg font-bold">House style and guides</h2>
      <p className="flex flex-wrap items-center gap-3">
        {typeface}, {size} pt
        <svg
          width={colours.length * 18 + 4}
          height={22}
          role="img"
          aria-label={`${colours.length} colours of lanes`}
        >
          <rect width="100%" height="100%" rx={3} fill={ground} />
          {colours.map((colour, place) => (
            <rect key={`${place} ${colour}`} x={place * 18 + 4} y={4} width={14} height={14} rx={2} fill={colour} />
          ))}
        </svg>
        <span className="text-sm text-muted">
          changed beside a figure, under Look; other figures are offered it
        </span>
      </p>
      <p>
        {kept.guides.length === 0 ? (
          <span className="text-muted">
            No guide is kept. A reference interval is kept beside a figure, under Axis.
          </span>
        ) : (
          <>
            Guides kept:{" "}
            {kept.guides.map(({ name, measure }) => (measure ? `${name} (${measure})` : name)).join(", ")}
          </>
        )}
      </p>
    </section>
  );
}
