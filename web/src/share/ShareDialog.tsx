import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api } from "../api/client";
import type { NewShare, ShareList } from "../api/generated";
import { Button } from "../ui/Button";
import { Modal } from "../ui/Modal";
import { tell } from "../ui/Notices";

interface Props {
  /** What is shared. */
  what: { comparison: string } | { folio: string };
  name: string;
  study: string;
  /** Whether this person may allow links for people without an account. */
  owner: boolean;
  onClose: () => void;
}

type Shared = Props["what"];

function sharesOf(what: Shared): Promise<ShareList> {
  return "comparison" in what
    ? answer(
        api.GET("/api/comparisons/{comparison_id}/shares", {
          params: { path: { comparison_id: what.comparison } },
        }),
      )
    : answer(api.GET("/api/folios/{folio_id}/shares", { params: { path: { folio_id: what.folio } } }));
}

function makeShare(what: Shared, body: NewShare): Promise<ShareList> {
  return "comparison" in what
    ? answer(
        api.POST("/api/comparisons/{comparison_id}/shares", {
          params: { path: { comparison_id: what.comparison } },
          body,
        }),
      )
    : answer(api.POST("/api/folios/{folio_id}/shares", { params: { path: { folio_id: what.folio } }, body }));
}

const DAY = 24 * 3600 * 1000;
const USUAL_DAYS = 14;

/** Links for people outside the study: read only, without rows, taken back at any time. */
export function ShareDialog({ what, name, study, owner, onClose }: Props) {
  const client = useQueryClient();
  const key = ["shares", what];
  const { data: list } = useQuery({ queryKey: key, queryFn: () => sharesOf(what) });
  const [ends, setEnds] = useState(dayFrom(USUAL_DAYS));
  const again = () => client.invalidateQueries({ queryKey: key });
  const make = (outside: boolean) =>
    makeShare(what, { outside, ends: outside ? ends : null }).then((next) => client.setQueryData(key, next), tell);
  const revoke = (id: string) =>
    void answer(api.DELETE("/api/shares/{share_id}", { params: { path: { share_id: id } } })).then(again, tell);
  const allow = (allowed: boolean) =>
    void answer(
      api.PUT("/api/studies/{study_id}/outside-links", {
        params: { path: { study_id: study } },
        body: { allowed },
      }),
    ).then(again, tell);
  return (
    <Modal
      title={`Share ${name}`}
      words="A link shows the figure as it stands, its readings and its note; no rows, and nothing can be changed."
      className="top-[10vh] max-h-[84vh] w-[44rem] overflow-y-auto bg-sheet p-5 text-[13px]"
      onClose={onClose}
    >
      {list && (
        <>
          <section aria-label="For people with an account" className="mt-2 grid gap-2">
            <h3 className="font-bold">For people with an account here</h3>
            <Links list={list} outside={false} onRevoke={revoke} />
            <Button className="justify-self-start" onClick={() => void make(false)}>
              Make a link
            </Button>
          </section>
          <section
            aria-label="For people without an account"
            className="mt-5 grid gap-2 border-t border-hairline pt-4"
          >
            <h3 className="font-bold">For people without an account</h3>
            <Links list={list} outside onRevoke={revoke} />
            {!list.outside_links && (
              <p className="text-muted">
                {owner
                  ? "Off in this study: nobody without an account sees anything of it."
                  : "Off in this study. One of its owners can allow such links."}
              </p>
            )}
            {list.outside_links && (
              <p className="flex items-end gap-3">
                <label className="grid gap-1">
                  Last day
                  <input
                    type="date"
                    value={ends}
                    min={dayFrom(0)}
                    max={dayFrom(365)}
                    onChange={(event) => setEnds(event.target.value)}
                    className="number rounded border border-hairline bg-sheet px-2 py-1"
                  />
                </label>
                <Button disabled={!ends} onClick={() => void make(true)}>
                  Make a signed link
                </Button>
              </p>
            )}
            {owner && (
              <Button look="quiet" className="justify-self-start !p-0" onClick={() => allow(!list.outside_links)}>
                {list.outside_links
                  ? "Allow none in this study, and close those there are"
                  : "Allow such links in this study"}
              </Button>
            )}
          </section>
        </>
      )}
    </Modal>
  );
}

function Links(props: { list: ShareList; outside: boolean; onRevoke: (id: string) => void }) {
  const shares = props.list.shares.filter((share) => share.outside === props.outside);
  const [copied, setCopied] = useState("");
  return (
    <ul className="grid gap-2">
      {shares.map((share) => {
        const address = `${window.location.origin}${share.path}`;
        return (
          <li key={share.id} className="grid grid-cols-[minmax(0,1fr)_auto_auto] items-center gap-x-3">
            <input
              readOnly
              aria-label="Address of the link"
              value={address}
              onFocus={(event) => event.currentTarget.select()}
              className="number min-w-0 rounded border border-hairline bg-bench px-2 py-1 text-[12px]"
            />
            <Button
              look="quiet"
              className="!p-0"
              onClick={() => navigator.clipboard.writeText(address).then(() => setCopied(share.id), tell)}
            >
              {copied === share.id ? "Copied" : "Copy"}
            </Button>
            <Button look="quiet" className="!p-0 !font-normal" onClick={() => props.onRevoke(share.id)}>
              Take back
            </Button>
            <span className="text-[12px] text-muted">
              {[`made by ${share.by}`, lasting(share), share.open ? "" : "closed"].filter(Boolean).join(", ")}
            </span>
          </li>
        );
      })}
    </ul>
  );
}

function lasting(share: ShareList["shares"][number]): string {
  if (!share.ends) return "until it is taken back";
  return `works to the end of ${new Date(new Date(share.ends).getTime() - 1).toISOString().slice(0, 10)} (UTC)`;
}

/** A day so many days from today, as 2027-01-31. */
function dayFrom(days: number): string {
  return new Date(Date.now() + days * DAY).toISOString().slice(0, 10);
}
