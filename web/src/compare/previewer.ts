import { put } from "../api/client";
import type { Recipe, Scene } from "../api/generated";
import { heldDigests, keepColumns } from "../scene/points";

/** Asks for scenes, one request in flight; of those that wait, the latest wins. */
export class Previewer {
  private next: Recipe | null = null;
  private busy = false;

  constructor(
    private readonly comparison: string,
    private readonly onScene: (scene: Scene, recipe: Recipe) => void,
    private readonly onFault: (error: unknown, recipe: Recipe) => void,
  ) {}

  ask(recipe: Recipe): void {
    this.next = recipe;
    if (!this.busy) void this.run();
  }

  private async run(): Promise<void> {
    this.busy = true;
    while (this.next) {
      const recipe: Recipe = this.next;
      this.next = null;
      try {
        const body = { recipe, have: heldDigests() };
        const scene = await put<Scene>("POST", `comparisons/${this.comparison}/scene`, body);
        keepColumns(scene);
        this.onScene(scene, recipe);
      } catch (error) {
        this.onFault(error, recipe);
      }
    }
    this.busy = false;
  }
}
