import { Link } from "wouter";
import { say } from "../words";
import { useComparison } from "./store/BenchContext";

/** What the reader of the file guessed or met, each with its line. */
export function Remarks() {
  const comparison = useComparison();
  const { remarks } = comparison;
  if (remarks.length === 0) return null;
  return (
    <details className="mx-auto mt-3 max-w-[1100px] px-4 text-[13px]">
      <summary className="cursor-pointer font-bold text-warn">
        {say("count-remarks", { count: remarks.length })} on reading {comparison.table_name}
      </summary>
      <ul className="mt-1 list-disc pl-5 text-muted">
        {remarks.map((remark, i) => (
          <li key={i}>
            {remark.line !== null && <span className="text-ink">Line {remark.line}: </span>}
            {remark.text}
          </li>
        ))}
      </ul>
      <Link href={`/tables/${comparison.table}`} className="font-bold text-petrol">
        Show the table
      </Link>
    </details>
  );
}
