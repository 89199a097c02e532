import type { ReactNode } from "react";
import { matrixOf } from "./sight";
import { useBenchState } from "./store/BenchContext";

/** What stands in it, as others see it. */
export function Sighted({ children }: { children: ReactNode }) {
  const sight = useBenchState((state) => state.sight);
  const matrix = matrixOf(sight);
  return (
    <div data-sight={sight} style={matrix ? { filter: "url(#sight)" } : undefined}>
      {matrix && (
        <svg width="0" height="0" aria-hidden="true" className="absolute">
          <filter id="sight" colorInterpolationFilters="linearRGB">
            <feColorMatrix type="matrix" values={matrix} />
          </filter>
        </svg>
      )}
      {children}
    </div>
  );
}
