/** Repeatable normally distributed numbers, mean 0, deviation 1. Source: Box & Muller, Ann. Math. Stat. 29 (1958). */
export function normal(next: () => number): () => number {
  let spare: number | undefined;
  return () => {
    if (spare !== undefined) {
      const s = spare;
      spare = undefined;
      return s;
    }
    const radius = Math.sqrt(-2 * Math.log(next() + 1e-12));
    const angle = 2 * Math.PI * next();
    spare = radius * Math.sin(angle);
    return radius * Math.cos(angle);
  };
}
