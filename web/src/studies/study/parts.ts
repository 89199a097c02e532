import type { StudyState } from "../../api/generated";

/** What the parts of the page need: the study, whether its reader may change it, and a way to ask for it again. */
export interface PartProps {
  study: StudyState;
  changing: boolean;
  again: () => Promise<unknown>;
}
