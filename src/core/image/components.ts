/** Connected areas of a mask. */
export interface Components {
  /** For each pixel the number of its area, from 1; 0 where the mask is 0. */
  readonly labels: Int32Array;
  /** Area in pixels by label; entry 0 is unused. */
  readonly areas: number[];
  /** Whether the area meets the frame's border, by label. */
  readonly atBorder: boolean[];
}

/** Labels the 4-connected areas where `mask` is not 0. */
export function labelComponents(mask: Uint8Array, width: number, height: number): Components {
  const labels = new Int32Array(width * height);
  const stack = new Int32Array(width * height);
  const areas = [0];
  const atBorder = [false];
  for (let seed = 0; seed < mask.length; seed++) {
    if (!mask[seed] || labels[seed]) continue;
    const label = areas.length;
    let area = 0;
    let border = false;
    let top = 0;
    stack[top++] = seed;
    labels[seed] = label;
    while (top > 0) {
      const i = stack[--top] as number;
      area++;
      const x = i % width;
      const y = (i - x) / width;
      if (x === 0 || y === 0 || x === width - 1 || y === height - 1) border = true;
      if (x > 0 && mask[i - 1] && !labels[i - 1]) {
        labels[i - 1] = label;
        stack[top++] = i - 1;
      }
      if (x < width - 1 && mask[i + 1] && !labels[i + 1]) {
        labels[i + 1] = label;
        stack[top++] = i + 1;
      }
      if (y > 0 && mask[i - width] && !labels[i - width]) {
        labels[i - width] = label;
        stack[top++] = i - width;
      }
      if (y < height - 1 && mask[i + width] && !labels[i + width]) {
        labels[i + width] = label;
        stack[top++] = i + width;
      }
    }
    areas.push(area);
    atBorder.push(border);
  }
  return { labels, areas, atBorder };
}
