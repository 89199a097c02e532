import { csrfToken } from "../api/client";
import { dropAllDrafts } from "../compare/store/drafts";

/** A form, since signing out ends the page. */
export function SignOut() {
  return (
    <form method="post" action="/sign-out" onSubmit={dropAllDrafts}>
      <input type="hidden" name="csrfmiddlewaretoken" value={csrfToken()} />
      <a href="/account" className="rounded-md px-3 py-1.5 hover:bg-sheet/10">
        Account
      </a>
      <button type="submit" className="rounded-md px-3 py-1.5 hover:bg-sheet/10">
        Sign out
      </button>
    </form>
  );
}
