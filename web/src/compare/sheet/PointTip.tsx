import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import type { Recipe } from "../../api/generated";
import { rowQuery } from "../rows/rowQuery";

const REST = 120;
const MOST_CELLS = 5;

interface Props {
  comparison: string;
  recipe: Recipe;
  row: number;
  /** CSS pixels on the sheet. */
  x: number;
  y: number;
}

/** The row of the point under the pointer, in short. */
export function PointTip({ comparison, recipe, row, x, y }: Props) {
  const [rested, setRested] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setRested(true), REST);
    return () => clearTimeout(timer);
  }, []);
  const { data } = useQuery({ ...rowQuery(comparison, recipe, row), enabled: rested });
  if (!data) return null;
  return (
    <div
      data-testid="point-tip"
      className="pointer-events-none absolute z-20 max-w-56 rounded bg-ink px-2.5 py-1.5 text-[12px] text-sheet"
      style={{ left: x + 12, top: y + 12 }}
    >
      <p>
        Row {data.row} <span className="text-sheet/70">{data.lane}</span>{" "}
        <strong className="number">{data.value}</strong>
      </p>
      {data.cells.slice(0, MOST_CELLS).map((cell) => (
        <p key={cell.column} className="truncate text-sheet/80">
          {cell.column}: <span className="number">{cell.value ?? "–"}</span>
        </p>
      ))}
    </div>
  );
}
