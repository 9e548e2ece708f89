import * as Comlink from "comlink";
import type { FollowedGround, Ground } from "../../core/matte/follow";
import { measureWorker } from "./engine";
import { complain, plateFootage, useBench } from "./store";

const state = useBench.getState;

/** The end of the shot that something is followed to. */
export type Towards = "start" | "end";

/** What is being followed, by its id, or how far each part of it was. */
export type Following =
  | { readonly of: string; readonly frame: number }
  | { readonly of: string; readonly from: number; readonly found: readonly FollowedGround[] };

/** Stops what is being followed where it is; what was found so far is kept. */
export const stopFollowing = (): void => useBench.setState({ following: null });

/**
 * Follows what lies under some outlines from the shown frame to one end of the shot.
 * @param of id of what they belong to, and `name`
 * @param unchanged whether it still is as it was; what was changed meanwhile is left alone
 * @param take takes over what was found, as one undoable change
 */
export async function followGrounds(
  of: string,
  name: string,
  grounds: readonly Ground[],
  towards: Towards,
  unchanged: () => boolean,
  take: (found: readonly FollowedGround[], from: number) => void,
): Promise<void> {
  const { recipe, shot, view } = state();
  const from = view.frame;
  let shown: Following = { of, frame: from };
  useBench.setState({ following: shown });
  const onFrame = Comlink.proxy(async (frame: number) => {
    if (state().following !== shown || !unchanged()) return false;
    shown = { of, frame };
    useBench.setState({ following: shown });
    return true;
  });
  const to = towards === "end" ? shot.plate.info.frames : 1;
  try {
    const found = await measureWorker().follow(recipe, plateFootage(), grounds, from, to, onFrame);
    // Stopped, and something else followed since: that one goes on.
    const { following } = state();
    if (following === shown || following === null) useBench.setState({ following: { of, from, found } });
    if (!unchanged()) throw new Error(`${name} changed while it was followed, and is as you left it. Follow it anew.`);
    take(found, from);
  } catch (error) {
    useBench.setState({ following: null });
    complain(error);
  }
}
