import type { BenchState } from "../store/benchStore";

/** A step of the short way in, and how it is known to be done. */
export interface FirstStep {
  words: string;
  done: (now: BenchState, before: BenchState) => boolean;
}

/** Five things on the real bench. */
export const STEPS: FirstStep[] = [
  {
    words: "Choose another form at the left, or press its number: 4 is a raincloud.",
    done: (now, before) => before.scene !== null && now.scene?.form !== before.scene.form,
  },
  {
    words: "Press an underlined word of the sentence and ask something else: split it by another column.",
    done: (now, before) => question(now) !== question(before),
  },
  {
    words: "Click a point that stands apart: its row opens with everything known of it.",
    done: (now) => now.row !== null,
  },
  {
    words: "Nothing you tried is lost: press an earlier figure of the trail, at the bottom.",
    done: (now, before) => (now.comparison?.head ?? 0) < (before.comparison?.head ?? 0),
  },
  {
    words: "Take the figure out: Export, at the upper right, with its numbers and its method note.",
    done: (now) => now.dialog === "export",
  },
];

function question({ comparison }: BenchState): string {
  const { measure, groups, subgroups, panels } = comparison?.recipe ?? {};
  return JSON.stringify([measure?.columns, groups?.column, subgroups?.column, panels]);
}
