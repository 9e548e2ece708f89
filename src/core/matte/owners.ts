/**
 * Tells which pass owns each pixel of a combined matte: the one with the greatest part in its cover.
 * @param shares for each pass after the first, how much of what stood before it gave way to its own, 0…1 a pixel
 * @param matte the combined cover, 0…1
 * @returns 1 for the first pass, 2 for the next…; 0 where the matte is empty. An even split is the earlier pass's.
 */
export function ownersOf(shares: readonly Float32Array[], matte: Float32Array): Float32Array {
  const owners = new Float32Array(matte.length);
  for (let i = 0; i < matte.length; i++) {
    if ((matte[i] as number) <= 0) continue;
    let owner = 1;
    let most = 1;
    // What a later pass takes, it takes from all before it alike.
    shares.forEach((share, k) => {
      const own = share[i] as number;
      most *= 1 - own;
      if (own > most) {
        owner = k + 2;
        most = own;
      }
    });
    owners[i] = owner;
  }
  return owners;
}
