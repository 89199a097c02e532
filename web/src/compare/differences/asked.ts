import type { Recipe } from "../../api/generated";

/** How lanes are set against one another. */
export type Asked = NonNullable<Recipe["differences"]>;
