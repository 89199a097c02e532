import { useId } from "react";
import type { Recipe } from "../../api/generated";
import { Field } from "../../ui/Field";
import { typedNumber } from "../../ui/numbers";
import { PickRow } from "../../ui/PickRow";
import { Row } from "../../ui/Row";
import { LEAST_SIDE, MOST_SIDE, millimetres, WIDTHS } from "../export/sheet";
import { useBenchState, useRights, useShown } from "../store/BenchContext";

const FIELD = "number min-w-0 w-full rounded border border-hairline bg-sheet px-2 py-1";
const UNITS: Record<string, number> = { mm: 1, cm: 10, in: 25.4, pt: 25.4 / 72 };

/** The size of the sheet, kept with the comparison. */
export function SheetSize() {
  const { recipe } = useShown();
  const { change } = useRights();
  const scene = useBenchState((state) => state.scene);
  const id = useId();
  const { width, height } = recipe.size;
  const now = inMillimetres(width);
  const settle = (size: Partial<Recipe["size"]>) => change({ ...recipe, size: { ...recipe.size, ...size } });
  const length = (text: string): string | null => {
    const typed = typedNumber(text);
    return typed === null || typed < LEAST_SIDE || typed > MOST_SIDE ? null : `${typed}mm`;
  };
  return (
    <section aria-label="Sheet" className="grid grid-cols-[minmax(0,1fr)] gap-2 border-t border-hairline pt-3">
      <PickRow
        name="Sheet"
        path="size.width"
        value={WIDTHS.find((preset) => preset.width === now)?.name ?? null}
        options={WIDTHS.map(({ name }) => name)}
        nothing="its own width"
        words={(name) => `${name}, ${WIDTHS.find((preset) => preset.name === name)?.width} mm`}
        onPick={(name) => {
          const preset = WIDTHS.find((preset) => preset.name === name);
          if (preset) settle({ width: `${preset.width}mm` });
        }}
      />
      <Row name="Width, mm" id={`${id}width`} path="size.width">
        <Field
          id={`${id}width`}
          inputMode="decimal"
          value={String(now)}
          onSettle={(text) => {
            const typed = length(text);
            if (typed) settle({ width: typed });
            return typed !== null;
          }}
          className={FIELD}
        />
      </Row>
      <Row name="Height, mm" id={`${id}height`} path="size.height" help="Empty: as high as the lanes need">
        <Field
          id={`${id}height`}
          inputMode="decimal"
          placeholder={scene ? `${millimetres(scene.height)}, by the lanes` : "by the lanes"}
          value={height === null ? "" : String(inMillimetres(height))}
          onSettle={(text) => {
            const typed = length(text);
            if (text !== "" && typed === null) return false;
            settle({ height: typed });
            return true;
          }}
          className={FIELD}
        />
      </Row>
    </section>
  );
}

function inMillimetres(length: string): number {
  const unit = length.replace(/[\d.]/g, "");
  return Math.round(Number.parseFloat(length) * (UNITS[unit] ?? 1) * 10) / 10;
}
