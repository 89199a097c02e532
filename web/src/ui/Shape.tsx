import type { ColumnSummary } from "../api/generated";

/** A column's shape: bars of a measure, or rows by level. */
export function Shape({ column, wide = 72, high = 26 }: { column: ColumnSummary; wide?: number; high?: number }) {
  const bars = column.bars.length ? column.bars : column.levels.slice(0, 12).map((level) => level.count);
  const most = Math.max(1, ...bars);
  const each = wide / Math.max(bars.length, 1);
  return (
    <svg
      width={wide}
      height={high}
      className={column.kind === "measure" ? "fill-petrol" : "fill-muted/50"}
      aria-hidden="true"
    >
      {bars.map((bar, i) => (
        <rect
          key={i}
          x={i * each}
          width={Math.max(each - 1, 1)}
          y={high - (bar / most) * high}
          height={(bar / most) * high}
        />
      ))}
    </svg>
  );
}
