import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api } from "../../api/client";
import type { InvitationState } from "../../api/generated";
import { ROLES, type Role } from "../../roles";
import { Button } from "../../ui/Button";
import { tell } from "../../ui/Notices";
import { dayOf } from "../days";

/** Asks somebody in by a link that works once, with an account or without one yet. */
export function Invite({ study }: { study: string }) {
  const client = useQueryClient();
  const path = { study_id: study };
  const key = ["invitations", study];
  const { data: open } = useQuery({
    queryKey: key,
    queryFn: () => answer(api.GET("/api/studies/{study_id}/invitations", { params: { path } })),
    staleTime: 0,
  });
  const [role, setRole] = useState<Role>("viewer");
  const [sign, setSign] = useState(false);
  const [words, setWords] = useState("");
  const [mail, setMail] = useState("");
  const [made, setMade] = useState<InvitationState | null>(null);
  const again = () => client.invalidateQueries({ queryKey: key });
  const invite = async () => {
    const body = { role, may_sign: sign, words: words.trim(), mail: mail.trim() };
    setMade(await answer(api.POST("/api/studies/{study_id}/invitations", { params: { path }, body })));
    setWords("");
    setMail("");
    await again();
  };
  const end = (id: string) => {
    const of = { params: { path: { ...path, invitation_id: id } } };
    void answer(api.DELETE("/api/studies/{study_id}/invitations/{invitation_id}", of)).then(() => {
      if (made?.id === id) setMade(null);
      return again();
    }, tell);
  };
  return (
    <section aria-label="Invite" className="mt-6">
      <h3 className="font-bold">Invite somebody by a link</h3>
      <form
        className="mt-2 flex flex-wrap items-center gap-x-3 gap-y-2"
        onSubmit={(event) => {
          event.preventDefault();
          void invite().catch(tell);
        }}
      >
        <input
          aria-label="Whom the link is for"
          placeholder="For whom, in your words"
          value={words}
          maxLength={200}
          onChange={(event) => setWords(event.target.value)}
          className="w-52 rounded border border-hairline bg-sheet px-3 py-1.5"
        />
        <input
          aria-label="Mail address"
          placeholder="Mail address, if it should be sent"
          inputMode="email"
          value={mail}
          maxLength={254}
          onChange={(event) => setMail(event.target.value)}
          className="w-60 rounded border border-hairline bg-sheet px-3 py-1.5"
        />
        <select
          aria-label="Role of whoever comes"
          value={role}
          onChange={(event) => setRole(event.target.value as Role)}
          className="rounded border border-hairline bg-sheet px-2 py-1.5"
        >
          {Object.entries(ROLES).map(([name, said]) => (
            <option key={name} value={name}>
              {said}
            </option>
          ))}
        </select>
        <label className="flex items-center gap-1.5 text-sm">
          <input
            type="checkbox"
            className="size-4 accent-petrol"
            checked={sign}
            onChange={(event) => setSign(event.target.checked)}
          />
          may sign off
        </label>
        <Button type="submit">Make the link</Button>
      </form>
      {made && (
        <p role="status" className="mt-3 grid max-w-[46rem] gap-1">
          <span>
            {made.mailed ? "It was sent. " : mail ? "No mail is set up here, so pass it on yourself. " : ""}
            The link is shown this once; it works once, until {dayOf(made.until)}:
          </span>
          <input
            readOnly
            aria-label="Address of the invitation"
            value={`${window.location.origin}${made.path}`}
            onFocus={(event) => event.currentTarget.select()}
            className="number rounded border border-hairline bg-sheet px-2 py-1 text-[12.5px]"
          />
        </p>
      )}
      {open && open.length > 0 && (
        <ul aria-label="Open invitations" className="mt-3 grid gap-1 text-[13px]">
          {open.map((invitation) => (
            <li key={invitation.id} className="flex gap-4">
              <span>
                {invitation.words || "somebody"} as {invitation.role}
                {invitation.may_sign && ", may sign off"}
              </span>
              <span className="text-muted">
                by {invitation.by}, until {dayOf(invitation.until)}
              </span>
              <Button
                look="quiet"
                className="!p-0 !font-normal"
                aria-label={`Take back the invitation of ${invitation.words || "somebody"}`}
                onClick={() => end(invitation.id)}
              >
                Take back
              </Button>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
