import { create } from "zustand";

const KEY = "echelle first steps";
const held = () => {
  const step = Number.parseInt(sessionStorage.getItem(KEY) ?? "", 10);
  return Number.isNaN(step) ? null : step;
};

interface Way {
  /** The step that one is at; null while nobody is led. */
  step: number | null;
  go: (step: number | null) => void;
}

/** How far somebody is on the short way in. */
export const useSteps = create<Way>((set) => ({
  step: held(),
  go: (step) => {
    if (step === null) sessionStorage.removeItem(KEY);
    else sessionStorage.setItem(KEY, String(step));
    set({ step });
  },
}));
