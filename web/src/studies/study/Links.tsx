import { useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api } from "../../api/client";
import type { StudyShares } from "../../api/generated";
import { Button } from "../../ui/Button";
import { Headings } from "../../ui/Headings";
import { tell } from "../../ui/Notices";
import { dayOf } from "../days";

/** The links into a study from outside: where they lead, until when, and who followed them. */
export function Links({ study }: { study: string }) {
  const client = useQueryClient();
  const key = ["links", study];
  const { data } = useQuery({
    queryKey: key,
    queryFn: () => answer(api.GET("/api/studies/{study_id}/shares", { params: { path: { study_id: study } } })),
    staleTime: 0,
  });
  const end = (id: string) =>
    void answer(api.DELETE("/api/shares/{share_id}", { params: { path: { share_id: id } } })).then(
      () => client.invalidateQueries({ queryKey: key }),
      tell,
    );
  if (!data) return null;
  return (
    <section aria-label="Links" className="mt-8">
      <h2 className="text-lg font-bold">Links</h2>
      {data.length === 0 && (
        <p className="mt-1 text-muted">None. A figure or folio is shared by a link from its own page: Share.</p>
      )}
      {data.length > 0 && (
        <table className="mt-2 w-full text-left">
          <Headings names={["Leads to", "For", "Works until", "Made by", "Followed by", ""]} />
          <tbody>
            {data.map((link) => (
              <tr key={link.id} className="border-b border-hairline/60">
                <td className="max-w-[22rem] truncate py-1.5 pr-6 font-bold" title={link.to}>
                  {link.to}
                </td>
                <td className="py-1.5 pr-6">
                  {link.outside ? "people without an account" : "people with an account"}
                </td>
                <td className="py-1.5 pr-6">{lasting(link)}</td>
                <td className="py-1.5 pr-6">{link.by}</td>
                <td className="py-1.5 pr-6" title={link.last ? `last on ${dayOf(link.last)}` : ""}>
                  {link.people.join(", ") || "nobody yet"}
                </td>
                <td className="py-1.5 text-right text-[13px]">
                  <Button
                    look="quiet"
                    className="!p-0 !font-normal"
                    aria-label={`Take back the link to ${link.to}`}
                    onClick={() => end(link.id)}
                  >
                    Take back
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

function lasting({ open, ends }: StudyShares[number]): string {
  if (!open) return "closed";
  return ends ? dayOf(new Date(new Date(ends).getTime() - 1).toISOString()) : "it is taken back";
}
