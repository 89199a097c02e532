import { useId } from "react";
import type { Scene } from "../../api/generated";
import { Choice } from "../../ui/Choice";
import { Field } from "../../ui/Field";
import { typedNumber } from "../../ui/numbers";
import { Row } from "../../ui/Row";
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
      <Row name="Shows" id={`${id}page`}>
        <select
          id={`${id}page`}
          value={out.page}
          onChange={(event) => onChange({ page: event.target.value as Outgoing["page"] })}
          className={FIELD}
        >
          <option value="figure">the figure</option>
          <option value="key">the reader’s key</option>
        </select>
      </Row>
      <Row name="Column" id={`${id}column`}>
        <select
          id={`${id}column`}
          value={WIDTHS.find((one) => one.width === out.width)?.name ?? ""}
          onChange={(event) =>
            onChange({ width: WIDTHS.find((one) => one.name === event.target.value)?.width ?? null, height: null })
          }
          className={FIELD}
        >
          <option value="">as drawn</option>
          {WIDTHS.map(({ name, width }) => (
            <option key={name} value={name}>
              {name}, {width} mm
            </option>
          ))}
        </select>
      </Row>
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
        <Row name="Dots an inch" id={`${id}dpi`}>
          <select
            id={`${id}dpi`}
            value={out.dpi}
            onChange={(event) => onChange({ dpi: Number(event.target.value) })}
            className={FIELD}
          >
            {DPI.map((dpi) => (
              <option key={dpi}>{dpi}</option>
            ))}
          </select>
        </Row>
      )}
      {dotted && <p className="number text-muted">{dotsOf(out, scene)}</p>}
      <Tick name="Clear ground" on={out.clear} onChange={(clear) => onChange({ clear })} />
      {out.kind === "svg" && (
        <Tick name="Text as outlines" on={out.outlines} onChange={(outlines) => onChange({ outlines })} />
      )}
    </div>
  );
}

function Tick({ name, on, onChange }: { name: string; on: boolean; onChange: (on: boolean) => void }) {
  return (
    <label className="flex items-center gap-2">
      <input
        type="checkbox"
        className="size-4 accent-petrol"
        checked={on}
        onChange={(event) => onChange(event.target.checked)}
      />
      {name}
    </label>
  );
}
