import { useQuery } from "@tanstack/react-query";
import { Link } from "wouter";
import { answer, api } from "../../api/client";
import type { Events } from "../../api/generated";
import { dayOf } from "../days";

/** What happened in a study, newest first, day by day. */
export function Activity({ study }: { study: string }) {
  const { data } = useQuery({
    queryKey: ["activity", study],
    queryFn: () => answer(api.GET("/api/studies/{study_id}/activity", { params: { path: { study_id: study } } })),
    staleTime: 0,
  });
  if (!data) return null;
  if (data.length === 0) return <p className="mt-6 text-muted">Nothing yet.</p>;
  return (
    <section aria-label="What happened" className="mt-5 grid gap-5">
      {byDay(data).map(([day, events]) => (
        <div key={day} className="grid grid-cols-[7rem_minmax(0,1fr)] gap-x-6">
          <h2 className="text-right font-bold">{day}</h2>
          <ul className="grid gap-1 border-l border-hairline pl-6">
            {events.map((event) => (
              <li key={event.at + event.name + event.words} className="flex gap-3">
                <span className="number w-12 shrink-0 text-[13px] text-muted">{timeOf(event.at)}</span>
                <span className="min-w-0">
                  {placeOf(event) ? (
                    <Link href={placeOf(event)} className="font-bold text-petrol hover:underline">
                      {event.name}
                    </Link>
                  ) : (
                    <strong>{event.name}</strong>
                  )}{" "}
                  {event.words} <span className="text-muted">· {event.by}</span>
                </span>
              </li>
            ))}
          </ul>
        </div>
      ))}
    </section>
  );
}

function placeOf({ comparison, table }: Events[number]): string {
  if (comparison) return `/comparisons/${comparison}`;
  return table ? `/tables/${table}` : "";
}

function byDay(events: Events): [string, Events][] {
  const days = new Map<string, Events>();
  for (const event of events) {
    const day = dayOf(event.at);
    days.set(day, [...(days.get(day) ?? []), event]);
  }
  return [...days];
}

/** A moment's time of day: "14:05". */
function timeOf(moment: string): string {
  return new Date(moment).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
}
