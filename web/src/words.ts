/** Words of the figures' catalogue, the one that the core writes notes, keys and advice from. */
import { FluentBundle, FluentNumber, FluentResource, type Scope } from "@fluent/bundle";
import source from "../../echelle/catalogue/en-GB.ftl?raw";
import type { Said } from "./said";

const bundle = new FluentBundle("en-GB", { useIsolating: false });
bundle.addResource(new FluentResource(source));

/** A count as it is read: 1448 as 1 448. */
class Count extends FluentNumber {
  override toString(_: Scope | undefined): string {
    return spaced(this.value);
  }
}

/** 1448 as 1 448. */
export function spaced(count: number): string {
  return String(count).replace(/\B(?=(\d{3})+$)/g, " ");
}

/** A message with its values; numbers are counts. Throws for a message or a value that is missing. */
export function say(message: Said, values: Record<string, string | number> = {}): string {
  const pattern = bundle.getMessage(message)?.value;
  if (!pattern) throw new Error(`no message “${message}”`);
  const known = Object.entries(values).map(([name, value]) => [
    name,
    typeof value === "number" ? new Count(value) : value,
  ]);
  return bundle.formatPattern(pattern, Object.fromEntries(known));
}
