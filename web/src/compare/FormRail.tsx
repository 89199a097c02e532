import { useEffect } from "react";
import type { FigureOptions } from "../api/generated";
import { SceneView } from "../scene/SceneView";
import { useBenchState } from "./store/BenchContext";
import { useFigureOptions } from "./useFigureOptions";
import { useForms } from "./useForms";

/** Keys of the first ten forms. */
const KEYS = "1234567890";
const SCALE = 0.8;
const RAIL =
  "w-[104px] shrink-0 overflow-y-auto border-r border-hairline bg-rail p-1.5 [scrollbar-gutter:stable] max-xl:w-[92px] max-xl:p-0.5 max-xl:[scrollbar-width:thin]";

/** All forms in miniature from the present data; keys 1 to 9 and 0 choose the first ten, arrows go from one to the next. */
export function FormRail() {
  const options = useFigureOptions();
  // It has its place from the start: the sheet must not move under a hand that already drags.
  return options ? <Rail options={options} /> : <div className={RAIL} />;
}

function Rail({ options }: { options: FigureOptions }) {
  const { forms, choose: onChoose } = useForms();
  const current = useBenchState((state) => state.scene?.form ?? null);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target instanceof HTMLElement ? event.target : null;
      if (target?.closest("input, textarea, select, [contenteditable], [role=listbox], [role=dialog], [role=menu]"))
        return;
      if (event.ctrlKey || event.metaKey || event.altKey || !KEYS.includes(event.key)) return;
      const form = options.forms[KEYS.indexOf(event.key)]?.form;
      if (!form || form === current) return;
      event.preventDefault();
      onChoose(form);
    };
    document.addEventListener("keydown", onKey);
    return () => document.removeEventListener("keydown", onKey);
  }, [options, current, onChoose]);
  const onArrow = (event: React.KeyboardEvent<HTMLElement>) => {
    const by = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 }[event.key];
    if (by === undefined) return;
    event.preventDefault();
    const buttons = [...event.currentTarget.querySelectorAll("button")];
    const at = buttons.indexOf(document.activeElement as HTMLButtonElement);
    const next = buttons[Math.min(Math.max(at + by, 0), buttons.length - 1)];
    next?.focus();
    next?.click();
  };
  return (
    <nav aria-label="Forms" onKeyDown={onArrow} className={RAIL}>
      {options.forms.map(({ form }, place) => {
        const made = forms?.find((other) => other.form === form);
        return (
          <button
            key={form}
            type="button"
            aria-label={form}
            aria-pressed={form === current}
            title={made?.reason || (place < KEYS.length ? `${form}: key ${KEYS[place]}` : form)}
            onClick={() => form !== current && onChoose(form)}
            className="mb-1 block w-full overflow-hidden rounded bg-sheet/60 text-left hover:bg-sheet aria-pressed:bg-sheet aria-pressed:outline-2 aria-pressed:outline-ink"
          >
            <span className="pointer-events-none grid h-[52px] place-items-center" aria-hidden="true">
              {made?.scene && <SceneView scene={made.scene} scale={SCALE} label={form} />}
            </span>
            <span className="flex justify-between px-1.5 pb-0.5 text-[11.5px] text-ink/80">
              {form}
              {place < KEYS.length && (
                <span aria-hidden="true" className="number text-[10.5px]">
                  {KEYS[place]}
                </span>
              )}
            </span>
          </button>
        );
      })}
    </nav>
  );
}
