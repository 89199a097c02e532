import { csrfToken } from "../api/client";

/** A form, since signing out ends the page. */
export function SignOut() {
  return (
    <form method="post" action="/sign-out">
      <input type="hidden" name="csrfmiddlewaretoken" value={csrfToken()} />
      <button type="submit" className="rounded-md px-3 py-1.5 hover:bg-sheet/10">
        Sign out
      </button>
    </form>
  );
}
