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
});
