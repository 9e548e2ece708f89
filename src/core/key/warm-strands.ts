/** Own lack of a surface, as a share of the screen's excess, from which on what is far out may be as warm, and from which on it is. */
const LACKS = 0.5;
const LACKS_MUCH = 0.75;
/** How far from certain subject that begins: nearer, its own rim is as warm, and what it is carried to. Reduced px. */
const FROM = 4;
/** How far around it is looked for, reduced px; and the part of the lack that must be met there. */
const AROUND = 6;
const MET = 0.5;

/** Excess on a reduced copy: what the plate has, what certain subject has and is carried outwards, and the screen's. */
export interface Carried {
  readonly width: number;
  readonly height: number;
  readonly excess: Float32Array;
  readonly carried: Float32Array;
  readonly excessBehind: Float32Array;
  /** Distance to certain subject, px. */
  readonly away: Float32Array;
}

/**
 * How far what stands far from certain subject may be as warm as that: 0…1 a pixel. Nothing of smoke or of a pale veil lacks more of the screen's
 * primary than grey does; strands and moving hands do, and before a dim blue screen fair hair lacks three times what the screen has too much. A
 * mixture of such with the screen reads as solid there if its subject is taken for grey.
 */
export function warmFarOut({ width, height, excess, carried, excessBehind, away }: Carried): Float32Array {
  const lowest = lowestAround(
    excess.map((v, i) => ((away[i] as number) > FROM ? v : 0)),
    width,
    height,
    AROUND,
  );
  return carried.map((own, i) => {
    const low = lowest[i] as number;
    if ((away[i] as number) <= FROM || own >= 0 || low >= 0) return 0;
    const lacks = (-own / (excessBehind[i] as number) - LACKS) / (LACKS_MUCH - LACKS);
    return Math.min(1, low / (MET * own)) * Math.min(1, Math.max(0, lacks));
  });
}

/** The lowest value within so many px along both axes. */
function lowestAround(values: Float32Array, width: number, height: number, radius: number): Float32Array {
  const rows = new Float32Array(values.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let low = Number.POSITIVE_INFINITY;
      const end = y * width + Math.min(width - 1, x + radius);
      for (let i = y * width + Math.max(0, x - radius); i <= end; i++) if ((values[i] as number) < low) low = values[i] as number;
      rows[y * width + x] = low;
    }
  const lowest = rows.slice();
  for (let y = 0; y < height; y++)
    for (let v = Math.max(0, y - radius); v <= Math.min(height - 1, y + radius); v++)
      for (let x = 0; x < width; x++) {
        const low = rows[v * width + x] as number;
        if (low < (lowest[y * width + x] as number)) lowest[y * width + x] = low;
      }
  return lowest;
}
