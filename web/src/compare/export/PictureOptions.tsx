import { useId } from "react";
import type { Scene } from "../../api/generated";
import { Choice } from "../../ui/Choice";
import { Field } from "../../ui/Field";
import { typedNumber } from "../../ui/numbers";
import { PickRow } from "../../ui/PickRow";
import { Row } from "../../ui/Row";
import { Tick } from "../../ui/Tick";
import { DPI, dotsOf, millimetres, type Outgoing, PICTURES, WIDTHS } from "./sheet";

const FIELD = "min-w-0 w-full rounded border border-hairline bg-sheet px-2 py-1";
const LEAST = 20;
const MOST = 2_000;

/** Format, sheet and ground. */
export function PictureOptions(props: {
  out: Outgoing;
  scene: Scene;
  onChange: (change: Partial<Outgoing>) => void;
}) {
  const { out, scene, onChange } = props;
  const id = useId();
  const dotted = out.kind === "png" || out.kind === "tiff";
  const length = (text: string, settle: (value: number | null) => void) => {
    const typed = typedNumber(text);
    if (text !== "" && (typed === null || typed < LEAST || typed > MOST)) return false;
    settle(typed);
    return true;
  };
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-2.5">
      <Choice
        name="Format"
        value={out.kind}
        options={PICTURES.map(({ kind, name }) => ({ value: kind, name }))}
        onChange={(kind) => onChange({ kind })}
      />
      <p className="text-muted">{PICTURES.find((one) => one.kind === out.kind)?.help}</p>
      <PickRow
        name="Shows"
        value={out.page}
        options={["figure", "key"] as const}
        words={(page) => (page === "figure" ? "the figure" : "the reader’s key")}
        onPick={(page) => onChange({ page: page ?? "figure" })}
      />
      <PickRow
        name="Column"
        value={WIDTHS.find((one) => one.width === out.width)?.name ?? null}
        options={WIDTHS.map(({ name }) => name)}
        nothing="as drawn"
        words={(name) => `${name}, ${WIDTHS.find((one) => one.name === name)?.width} mm`}
        onPick={(name) => onChange({ width: WIDTHS.find((one) => one.name === name)?.width ?? null, height: null })}
      />
      <Row name="Width, mm" id={`${id}width`}>
        <Field
          id={`${id}width`}
          inputMode="decimal"
          placeholder={String(millimetres(scene.width))}
          value={out.width === null ? "" : String(out.width)}
          onSettle={(text) =>
            length(text, (width) => onChange({ width, height: width === null ? null : out.height }))
          }
          className={`number ${FIELD}`}
        />
      </Row>
      {out.width !== null && (
        <Row name="Height, mm" id={`${id}height`}>
          <Field
            id={`${id}height`}
            inputMode="decimal"
            placeholder="as needed"
            value={out.height === null ? "" : String(out.height)}
            onSettle={(text) => length(text, (height) => onChange({ height }))}
            className={`number ${FIELD}`}
          />
        </Row>
      )}
      {dotted && (
        <PickRow
          name="Dots an inch"
          value={String(out.dpi)}
          options={DPI.map(String)}
          onPick={(dpi) => onChange({ dpi: Number(dpi) })}
        />
      )}
      {dotted && <p className="number text-muted">{dotsOf(out, scene)}</p>}
      <Tick name="Clear ground" on={out.clear} onChange={(clear) => onChange({ clear })} />
      {out.kind === "svg" && (
        <Tick name="Text as outlines" on={out.outlines} onChange={(outlines) => onChange({ outlines })} />
      )}
    </div>
  );
}
