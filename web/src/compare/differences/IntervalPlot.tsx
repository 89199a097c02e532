import type { EstimateLine } from "../../api/generated";

const WIDE = 112;
const HIGH = 16;

interface Props {
  line: EstimateLine;
  /** From where to where the axis of all lines of this estimate reaches. */
  domain: [number, number];
  /** Where nothing differs. */
  zero: number;
  /** Within this of zero counts as equivalent. */
  margin: number | null;
}

/** An estimate with its interval against the line of no difference. */
export function IntervalPlot({ line, domain, zero, margin }: Props) {
  const [low, high] = domain;
  const at = (value: number) => ((value - low) / (high - low || 1)) * (WIDE - 8) + 4;
  return (
    <svg width={WIDE} height={HIGH} aria-hidden="true" className="overflow-visible">
      {margin !== null && (
        <rect
          x={at(zero - margin)}
          width={Math.max(0, at(zero + margin) - at(zero - margin))}
          height={HIGH}
          className="fill-petrol/15"
        />
      )}
      <line x1={at(zero)} x2={at(zero)} y1={0} y2={HIGH} className="stroke-muted" strokeDasharray="2 2" />
      {line.low !== null && line.high !== null && (
        <line
          x1={at(line.low)}
          x2={at(line.high)}
          y1={HIGH / 2}
          y2={HIGH / 2}
          className="stroke-ink"
          strokeWidth={1.6}
        />
      )}
      {line.value !== null && <circle cx={at(line.value)} cy={HIGH / 2} r={3.2} className="fill-petrol" />}
    </svg>
  );
}

/** The range that holds all intervals of an estimate, and the line of no difference. */
export function domainOf(lines: EstimateLine[], zero: number, margin: number | null): [number, number] {
  const ends = lines.flatMap((line) => [line.low, line.high, line.value]).filter((end) => end !== null);
  const all = [...ends, zero, ...(margin === null ? [] : [zero - margin, zero + margin])];
  return [Math.min(...all), Math.max(...all)];
}
