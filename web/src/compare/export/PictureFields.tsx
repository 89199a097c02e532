import { useId } from "react";
import type { FormatOffer, Scene } from "../../api/generated";
import { useFormats } from "../../api/useFormats";
import { Choice } from "../../ui/Choice";
import { Field } from "../../ui/Field";
import { typedNumber } from "../../ui/numbers";
import { PickRow } from "../../ui/PickRow";
import { Row } from "../../ui/Row";
import { Tick } from "../../ui/Tick";
import { DPI, dotsOf, LEAST_SIDE, MOST_SIDE, millimetres, type PictureOptions, WIDTHS } from "./sheet";

const SHOWN: readonly PictureOptions["page"][] = ["figure", "key", "pages"];
const SHOWN_WORDS = { figure: "the figure", key: "the reader’s key", pages: "pages of A4" };
const FIELD = "min-w-0 w-full rounded border border-hairline bg-sheet px-2 py-1";

/** Format, sheet and ground. */
export function PictureFields(props: {
  out: PictureOptions;
  scene: Scene;
  onChange: (change: Partial<PictureOptions>) => void;
}) {
  const { out, scene, onChange } = props;
  const id = useId();
  const formats = useFormats();
  const format = formats.find((format) => format.name === out.kind);
  const has = (setting: FormatOffer["settings"][number]) => format?.settings.includes(setting) ?? false;
  const length = (text: string, settle: (value: number | null) => void) => {
    const typed = typedNumber(text);
    if (text !== "" && (typed === null || typed < LEAST_SIDE || typed > MOST_SIDE)) return false;
    settle(typed);
    return true;
  };
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-2.5">
      <Choice
        name="Format"
        value={out.kind}
        options={formats.map(({ name, title }) => ({ value: name, name: title }))}
        onChange={(kind) => {
          const paged = formats.some(({ name, pages }) => name === kind && pages);
          onChange({ kind, page: out.page === "pages" && !paged ? "figure" : out.page });
        }}
      />
      <p className="text-muted">{format?.use}</p>
      <PickRow
        name="Shows"
        value={out.page}
        options={format?.pages ? SHOWN : SHOWN.slice(0, 2)}
        words={(page) => SHOWN_WORDS[page]}
        onPick={(page) => onChange({ page: page ?? "figure" })}
      />
      <PickRow
        name="Column"
        value={WIDTHS.find((width) => width.width === out.width)?.name ?? null}
        options={WIDTHS.map(({ name }) => name)}
        nothing="as drawn"
        words={(name) => `${name}, ${WIDTHS.find((width) => width.name === name)?.width} mm`}
        onPick={(name) =>
          onChange({ width: WIDTHS.find((width) => width.name === name)?.width ?? null, height: null })
        }
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
      {has("dpi") && (
        <PickRow
          name="Dots an inch"
          value={String(out.dpi)}
          options={DPI.map(String)}
          onPick={(dpi) => onChange({ dpi: Number(dpi) })}
        />
      )}
      {has("dpi") && <p className="number text-muted">{dotsOf(out, scene)}</p>}
      {has("clear") && <Tick name="No background" on={out.clear} onChange={(clear) => onChange({ clear })} />}
      {has("text") && (
        <Tick name="Text as outlines" on={out.outlines} onChange={(outlines) => onChange({ outlines })} />
      )}
    </div>
  );
}
