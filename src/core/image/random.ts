/** Repeatable numbers in 0…1. Source: the minimal standard generator, Park & Miller, CACM 31 (1988), multiplier 48271. */
export function random(seed: number): () => number {
  let s = seed;
  return () => {
    s = (s * 48271) % 2147483647;
    return s / 2147483647;
  };
}
