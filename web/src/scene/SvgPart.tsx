import { memo } from "react";
import type { Paint, PointsPart, TextPart } from "../api/generated";
import { columnsOf, hiddenOf, type ScenePart } from "./points";
import { DASHES, outline } from "./shapes";

function painted(paint: Paint) {
  return {
    fill: paint.fill ?? "none",
    stroke: paint.stroke ?? "none",
    strokeWidth: paint.stroke_width,
    fillOpacity: paint.opacity,
    strokeOpacity: paint.opacity,
    strokeDasharray: DASHES[paint.dash].join(" ") || undefined,
  };
}

function Text({ part }: { part: TextPart }) {
  return (
    <text
      data-key={part.key}
      data-role={part.role}
      x={part.x}
      y={part.y}
      fontSize={part.size}
      fill={part.fill}
      xmlSpace="preserve"
      textRendering="geometricPrecision"
      transform={part.turn ? `rotate(${part.turn} ${part.x} ${part.y})` : undefined}
    >
      {part.runs.map((run, i) => (
        <tspan
          key={i}
          x={part.x + run.at + (run.backwards ? run.width : 0)}
          y={part.y - run.rise}
          fontSize={run.scale === 1 ? undefined : part.size * run.scale}
          fontFamily={`'Echelle ${run.face}'`}
          direction={run.backwards ? "rtl" : undefined}
          unicodeBidi={run.backwards ? "bidi-override" : undefined}
        >
          {run.text}
        </tspan>
      ))}
    </text>
  );
}

function Points({ part }: { part: PointsPart }) {
  const { x, y, rows } = columnsOf(part.columns);
  const hidden = hiddenOf(part);
  return (
    <g data-key={part.key} data-role={part.role} {...painted(part.paint)}>
      {Array.from(x, (px, i) => {
        if (hidden[i] === 1) return null;
        const py = y[i] ?? 0;
        const row = rows[i];
        return part.shape === "circle" ? (
          <circle key={i} cx={px} cy={py} r={part.size / 2} data-row={row} />
        ) : (
          <path key={i} d={outline(part.shape, px, py, part.size)} data-row={row} />
        );
      })}
    </g>
  );
}

/** One part of a scene as SVG. */
export const SvgPart = memo(function SvgPart({ part, skipPoints }: { part: ScenePart; skipPoints: boolean }) {
  const name = { "data-key": part.key, "data-role": part.role };
  switch (part.part) {
    case "group":
      return (
        <g {...name} data-layer={part.layer} data-lane={part.lane || undefined}>
          {part.parts.map((child) => (
            <SvgPart key={child.key} part={child} skipPoints={skipPoints} />
          ))}
        </g>
      );
    case "rect":
      return (
        <rect
          {...name}
          data-says={part.says || undefined}
          x={part.x}
          y={part.y}
          width={part.width}
          height={part.height}
          {...painted(part.paint)}
        />
      );
    case "line":
      return <line {...name} x1={part.x1} y1={part.y1} x2={part.x2} y2={part.y2} {...painted(part.paint)} />;
    case "path":
      return <path {...name} d={part.d} {...painted(part.paint)} />;
    case "text":
      return <Text part={part} />;
    case "points":
      return skipPoints ? null : <Points part={part} />;
  }
});
