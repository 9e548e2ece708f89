import type { Picture } from "../image/plane";
import type { Primary } from "../screen/primary";
import { kernels, memoryOf, places as placesInMemory } from "./module";

/** Places at which so much of the screen ought to be left, 0 or 1; and the most that one of them may cost. */
export interface AskedPlaces {
  readonly places: Uint32Array;
  readonly aim: number;
  readonly most: number;
}

/**
 * What channel weights cost: the squared difference of what the plain difference leaves of the screen, 0…1, from what ought to be left, summed over
 * each set of places. Valid until another step uses the kernels on planes.
 * @param order the screen's primary and the two other channels, of which the first has the weight
 */
export function costsByWeight(
  plate: Picture,
  screen: Picture,
  order: readonly [Primary, Primary, Primary],
  asked: readonly AskedPlaces[],
): (weight: number) => number[] {
  const { take, end } = placesInMemory();
  // A multiple of four: what fills it up costs nothing.
  const sets = asked.map((set) => {
    const length = Math.ceil(set.places.length / 4) * 4;
    return { ...set, length, lines: [take(length), take(length), take(length), take(length)] as const };
  });
  const buffer = memoryOf(end());
  for (const { places, aim, length, lines } of sets)
    for (const [k, picture] of [plate, screen].entries()) {
      const [p, u, v] = order.map((c) => picture[c]) as [Float32Array, Float32Array, Float32Array];
      const none = new Float32Array(buffer, lines[2 * k] as number, length).fill(k ? 1 : aim);
      const falls = new Float32Array(buffer, lines[2 * k + 1] as number, length).fill(0);
      for (let j = 0; j < places.length; j++) {
        const i = places[j] as number;
        none[j] = (p[i] as number) - (v[i] as number);
        falls[j] = (u[i] as number) - (v[i] as number);
      }
    }
  return (weight) => sets.map(({ aim, most, length, lines }) => kernels().leftBy(...lines, length, weight, aim, most));
}
