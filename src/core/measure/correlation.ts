export function meanOf(values: ArrayLike<number>, n: number): number {
  let sum = 0;
  for (let i = 0; i < n; i++) sum += values[i] as number;
  return sum / n;
}

/** Standard deviation of all values, of what they are and not of what they stand for. NaN for none. */
export function deviationOf(values: ArrayLike<number>): number {
  const mean = meanOf(values, values.length);
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += ((values[i] as number) - mean) ** 2;
  return Math.sqrt(sum / values.length);
}

/** Correlation of two rows of figures. Source: Pearson, Phil. Trans. A 187 (1896). NaN when one of them is constant. */
export function correlation(x: ArrayLike<number>, y: ArrayLike<number>): number {
  const n = Math.min(x.length, y.length);
  const [mx, my] = [meanOf(x, n), meanOf(y, n)];
  let [xy, xx, yy] = [0, 0, 0];
  for (let i = 0; i < n; i++) {
    const [dx, dy] = [(x[i] as number) - mx, (y[i] as number) - my];
    xy += dx * dy;
    xx += dx * dx;
    yy += dy * dy;
  }
  return xy / Math.sqrt(xx * yy);
}

/** Correlation of the ranks; equal values share theirs. Source: Spearman, Am. J. Psychol. 15 (1904). NaN when a row is constant. */
export function rankCorrelation(x: readonly number[], y: readonly number[]): number {
  const ranks = (v: readonly number[]) => v.map((a) => v.filter((b) => b < a).length + (v.filter((b) => b === a).length - 1) / 2);
  return correlation(ranks(x), ranks(y));
}
