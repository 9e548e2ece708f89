import type { Allocate } from "../image/plane";
import type { Recipe } from "./schema";
import type { Sources } from "./sources";
import type { StepCache } from "./step-cache";

/** One frame of a recipe at one size: what all of its steps are made from. */
export interface AskedFrame {
  readonly recipe: Recipe;
  readonly sources: Sources;
  /** Reduction: 1 full size, 2 half, 4 quarter… */
  readonly reduce: number;
  /** Number of the plate's frame, from 1: tells where keyed shapes are. */
  readonly number: number;
  readonly cache: StepCache;
  readonly allocate: Allocate;
}
