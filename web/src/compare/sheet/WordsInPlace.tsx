import { useState } from "react";
import type { Recipe, Scene } from "../../api/generated";
import { Words } from "../../ui/Field";
import { type Written, writtenOn } from "./words";

interface Props {
  scene: Scene;
  scale: number;
  recipe: Recipe;
  onSettle: (recipe: Recipe) => void;
}

/** The words of the sheet, each edited where it stands: a click, or Enter. */
export function WordsInPlace({ scene, scale, recipe, onSettle }: Props) {
  const [editing, setEditing] = useState<string | null>(null);
  return writtenOn(scene, recipe).map((written) =>
    editing === written.key ? (
      <Editor
        key={written.key}
        written={written}
        scale={scale}
        wide={scene.width * scale}
        onDone={(text) => {
          setEditing(null);
          if (text !== null) onSettle(written.change(text));
        }}
      />
    ) : (
      <button
        key={written.key}
        type="button"
        {...(written.missing ? {} : { "aria-label": `${written.name}: ${written.value}` })}
        title={`${written.name}: click to write it${written.missing ? "" : " anew"}`}
        style={written.missing ? {} : placed(written, scale)}
        onClick={() => setEditing(written.key)}
        className={`absolute cursor-text rounded ${written.missing ? ABSENT : PRESENT}`}
      >
        {written.missing && `+ ${written.name}`}
      </button>
    ),
  );
}

/** Words of so many letters are rather written anew than mended. */
const SHORT = 60;
const PRESENT = "border border-transparent hover:border-hairline hover:bg-bench/40";
const ABSENT =
  "-top-3.5 left-0 z-10 px-1.5 text-[12px] text-petrol opacity-0 group-hover/figure:opacity-100 hover:underline focus-visible:opacity-100";

function placed({ box }: Written, scale: number) {
  const [left, top, right, bottom] = box.map((end) => end * scale) as [number, number, number, number];
  return { left: left - 4, top: top - 2, width: right - left + 8, height: bottom - top + 4 };
}

interface EditorProps {
  written: Written;
  scale: number;
  /** The sheet's width in CSS pixels. */
  wide: number;
  onDone: (text: string | null) => void;
}

/** As wide as the text and half as much again, inside the sheet. */
function Editor({ written, scale, wide, onDone }: EditorProps) {
  const { left, top, width, height } = placed(written, scale);
  const room = Math.min(wide, Math.max(written.turned ? height : width * 1.5, 220));
  const middle = written.turned ? top + height / 2 - 16 : top;
  return (
    <Words
      autoFocus
      aria-label={written.name}
      value={written.value}
      maxLength={written.key === "caption" ? 2_000 : 500}
      onFocus={(event) => written.value.length <= SHORT && event.currentTarget.select()}
      onSettle={(text) => {
        onDone(text);
        return true;
      }}
      onLeave={() => onDone(null)}
      style={{
        left: Math.max(0, Math.min(left, wide - room)),
        top: middle,
        width: room,
        fontSize: Math.max(13, Math.min(written.size * scale, 20)),
      }}
      className="absolute z-20 rounded border-2 border-petrol bg-sheet px-1.5 shadow-float"
    />
  );
}
