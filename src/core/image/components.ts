/** Connected areas of a mask. */
export interface Components {
  /** For each pixel the number of its area, from 1; 0 where the mask is 0. */
  readonly labels: Int32Array;
  /** Area in pixels by label; entry 0 is unused. */
  readonly areas: number[];
  /** Whether the area meets the frame's border, by label. */
  readonly atBorder: boolean[];
}

/**
 * Labels the 4-connected areas where `mask` is not 0, in the order in which their first pixels are read.
 * By runs of a row joined to the runs above them: union-find, after Rosenfeld & Pfaltz, "Sequential Operations in Digital
 * Picture Processing", J. ACM 13 (1966).
 */
export function labelComponents(mask: Uint8Array, width: number, height: number): Components {
  const labels = new Int32Array(width * height);
  // Runs as they are met: where each begins and ends, and the run it hangs on; roots are the earliest of their area.
  let starts = new Int32Array(1024);
  let ends = new Int32Array(1024);
  let parents = new Int32Array(1024);
  let count = 0;
  const rootOf = (k: number): number => {
    while (parents[k] !== k) {
      const up = parents[parents[k] as number] as number;
      parents[k] = up;
      k = up;
    }
    return k;
  };
  let above = 0;
  for (let y = 0; y < height; y++) {
    const here = count;
    const end = (y + 1) * width;
    let over = above;
    for (let i = y * width; i < end; i++) {
      if (!mask[i]) continue;
      const start = i;
      while (i < end && mask[i]) i++;
      if (count === starts.length) [starts, ends, parents] = [twice(starts), twice(ends), twice(parents)];
      starts[count] = start;
      ends[count] = i;
      parents[count] = count;
      // Runs above that end before this one begins are done with: the next begins further on.
      while (over < here && (ends[over] as number) <= start - width) over++;
      for (let k = over; k < here && (starts[k] as number) < i - width; k++) {
        const a = rootOf(k);
        const b = rootOf(count);
        if (a < b) parents[b] = a;
        else parents[a] = b;
      }
      count++;
    }
    above = here;
  }
  const areas = [0];
  const atBorder = [false];
  const numbers = new Int32Array(count);
  for (let k = 0; k < count; k++) {
    const root = rootOf(k);
    if (root === k) {
      numbers[k] = areas.length;
      areas.push(0);
      atBorder.push(false);
    }
    const label = numbers[root] as number;
    const [start, end] = [starts[k] as number, ends[k] as number];
    labels.fill(label, start, end);
    areas[label]! += end - start;
    const y = Math.floor(start / width);
    if (y === 0 || y === height - 1 || start === y * width || end === (y + 1) * width) atBorder[label] = true;
  }
  return { labels, areas, atBorder };
}

function twice(list: Int32Array<ArrayBuffer>): Int32Array<ArrayBuffer> {
  const longer = new Int32Array(2 * list.length);
  longer.set(list);
  return longer;
}
