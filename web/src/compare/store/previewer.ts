import type { Recipe, Scene } from "../../api/generated";
import { keepColumns } from "../../scene/points";
import { sceneOf } from "./prefetch";
import { untilAnswered } from "./retry";

/** Asks for scenes, one request in flight; of those that wait, the latest wins. */
export class Previewer {
  private next: { recipe: Recipe; coming?: Promise<Scene> } | null = null;
  private busy = false;
  private running: Promise<void> = Promise.resolve();

  constructor(
    private readonly comparison: string,
    private readonly onScene: (scene: Scene, recipe: Recipe) => void,
    private readonly onFault: (error: unknown, recipe: Recipe) => void,
    /** Why it waits for an answer; null once it does not. */
    private readonly onWait: (why: string | null) => void,
  ) {}

  /** Ask for a recipe's scene, or wait for one that is coming already. */
  ask(recipe: Recipe, coming?: Promise<Scene>): void {
    this.next = coming ? { recipe, coming } : { recipe };
    if (!this.busy) this.running = this.run();
  }

  /** Once nothing is asked for any more, or after so many ms. */
  drawn(within: number): Promise<void> {
    return Promise.race([this.running, new Promise<void>((resolve) => setTimeout(resolve, within))]);
  }

  private async run(): Promise<void> {
    this.busy = true;
    while (this.next) {
      const { recipe, coming }: NonNullable<typeof this.next> = this.next;
      this.next = null;
      try {
        // What was asked for ahead is waited for once: asked again it is asked anew.
        let ahead = coming;
        const ask = () => {
          const asked = ahead ?? sceneOf(this.comparison, recipe);
          ahead = undefined;
          return asked;
        };
        const scene = await untilAnswered(ask, this.onWait);
        keepColumns(scene);
        this.onScene(scene, recipe);
      } catch (error) {
        this.onFault(error, recipe);
      }
    }
    this.busy = false;
  }
}
