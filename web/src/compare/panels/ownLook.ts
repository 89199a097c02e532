import type { Recipe } from "../../api/generated";

export type OwnLook = Recipe["own_look"];

/** No point in which a figure deviates from its look. */
export function followed(own: OwnLook): OwnLook {
  return Object.fromEntries(Object.keys(own).map((key) => [key, null])) as unknown as OwnLook;
}

/** The figure's own colours without that of one level; null where none is left. */
export function withoutLevel(own: OwnLook, column: string, level: string): OwnLook["level_colours"] {
  const { [column]: of, ...columns } = own.level_colours ?? {};
  const { [level]: _, ...levels } = of ?? {};
  const left = Object.keys(levels).length ? { ...columns, [column]: levels } : columns;
  return Object.keys(left).length ? left : null;
}
