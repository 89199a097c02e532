import type { Member } from "./api/generated";

export type Role = Member["role"];

/** What each role may do, in words. */
export const ROLES: Record<Role, string> = {
  owner: "owner: also manages people",
  editor: "editor: changes everything in it",
  reader: "reader: sees figures and rows",
  viewer: "viewer: sees figures, no rows",
};

/** Whether somebody in a role may change what a study holds. */
export const mayChange = (role: Role) => role === "owner" || role === "editor";

/** Whether somebody in a role may see rows. */
export const seesRows = (role: Role) => role !== "viewer";
