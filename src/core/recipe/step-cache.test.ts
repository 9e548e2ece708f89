import { describe, expect, it } from "vitest";
import { StepCache } from "./step-cache";

describe("what a step cache lets go of", () => {
  const put = (cache: StepCache, name: string, key: string) =>
    cache.step(name, key, () => {
      const value = cache.pool.take(256);
      return { value, owned: [value] };
    });

  it("between frames: all but the steps that last, whose memory serves the next frame", () => {
    const cache = new StepCache(1024 * 1024, new Set(["clean"]));
    const clean = put(cache, "clean", "supplied");
    const pull = put(cache, "pull", "frame 1");
    cache.leaveFrame();
    expect(put(cache, "clean", "supplied")).toBe(clean);
    expect(put(cache, "pull", "frame 2")).toBe(pull);
    expect(cache.computed).toEqual({ clean: 1, pull: 2 });
    expect(cache.pool.allocated).toBe(2);
    // A frame that did not look at it: then it goes too.
    cache.leaveFrame();
    put(cache, "pull", "frame 3");
    cache.leaveFrame();
    put(cache, "clean", "supplied");
    expect(cache.computed.clean).toBe(2);
    expect(cache.pool.allocated).toBe(2);
  });
  it("over its bound: what was used longest ago, and no more than it must", () => {
    const cache = new StepCache(2 * 1024);
    for (const key of ["a", "b", "c"]) put(cache, "pull", key);
    put(cache, "pull", "a");
    cache.trim();
    put(cache, "pull", "a");
    put(cache, "pull", "c");
    expect(cache.computed.pull).toBe(3);
    put(cache, "pull", "b");
    expect(cache.computed.pull).toBe(4);
  });
  it("within a frame: steps that no other looks at, where memory is short; what lasts stays", () => {
    for (const [frugal, again] of [
      [true, 2],
      [false, 1],
    ] as const) {
      const cache = new StepCache(1024 * 1024, new Set(["clean"]), 1024 * 1024, frugal);
      for (const name of ["prepare", "clean", "pull"]) put(cache, name, "frame 1");
      cache.spent("prepare", "clean");
      for (const name of ["prepare", "clean", "pull"]) put(cache, name, "frame 1");
      expect(cache.computed).toEqual({ prepare: again, clean: 1, pull: 1 });
      expect(cache.pool.allocated).toBe(3);
    }
  });
  it("after a frame: the result's own memory is the first to serve the next one", () => {
    const cache = new StepCache(1024 * 1024, new Set(), 2 * 1024);
    put(cache, "prepare", "frame 1");
    const [edge, composite] = [put(cache, "edge", "frame 1"), put(cache, "composite", "frame 1")];
    cache.leaveFrame();
    // Room for two planes is kept; the first of the three is not among them.
    expect([put(cache, "prepare", "frame 2"), put(cache, "edge", "frame 2")].sort()).toEqual([edge, composite].sort());
    expect(cache.pool.allocated).toBe(3);
    put(cache, "composite", "frame 2");
    expect(cache.pool.allocated).toBe(4);
  });
});
