import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api } from "../api/client";
import { goOn, useSession } from "../api/session";
import { Button } from "./Button";
import { Modal } from "./Modal";
import { tell } from "./Notices";
import { PasswordField } from "./PasswordField";

/** Sign-in over the page, when the session ended while it was open: what is on the page stays and goes on. */
export function SignInAgain() {
  const over = useSession((state) => state.over);
  // Known from before it ended.
  const { data: me } = useQuery({
    queryKey: ["me"],
    queryFn: () => answer(api.GET("/api/session")),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const client = useQueryClient();
  const [password, setPassword] = useState("");
  if (!over) return null;
  const goneOn = () => {
    goOn();
    // What was asked for meanwhile was refused.
    void client.invalidateQueries();
  };
  const enter = async () => {
    const now = await answer(api.POST("/api/session/again", { body: { username: me?.username ?? "", password } }));
    setPassword("");
    // Somebody else's page must not be gone on with.
    if (me && now.username !== me.username) window.location.reload();
    goneOn();
  };
  const look = async () => {
    await answer(api.GET("/api/session"));
    goneOn();
  };
  return (
    <Modal
      title="Sign in to go on"
      words="Your session ended. What is on this page stays, and is kept as soon as you are signed in."
      className="top-[20vh] w-[26rem] bg-sheet p-5 text-[14px]"
      onClose={() => useSession.setState({ over: false })}
    >
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          void enter().catch(tell);
        }}
      >
        <p>
          Name <strong>{me?.name ?? ""}</strong>
        </p>
        <PasswordField name="Password" value={password} onChange={setPassword} />
        <div className="flex items-center justify-between gap-2">
          <Button look="quiet" className="!p-0" onClick={() => void look().catch(tell)}>
            I signed in elsewhere
          </Button>
          <Button type="submit" disabled={!password}>
            Sign in
          </Button>
        </div>
      </form>
    </Modal>
  );
}
