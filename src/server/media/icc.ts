import { type Primaries, primariesOfColorants } from "../../core/color/primaries";
import { srgbToLinear } from "../../core/color/srgb";

/** Offsets in a profile, bytes. Source: ISO 15076-1:2005 (ICC.1), 7.2, 7.3 and clause 10. */
const COLOUR_SPACE = 16;
const TAG_COUNT = 128;
const TAGS = 132;
const TAG_BYTES = 12;
/** Codes at which a profile's curve is held against sRGB's, and how far it may be off. */
const HELD_AT = [0.02, 0.2, 0.5, 0.8];
const OFF = 0.003;

/**
 * The primaries of a still by its profile, where it says no more than these and sRGB's curve, as phones' stills and most others do: such a file's
 * codes are read as they are. Undefined for other profiles, whose codes have to be converted.
 */
export function primariesOfProfile(profile: Buffer): Primaries | undefined {
  try {
    if (profile.toString("latin1", COLOUR_SPACE, COLOUR_SPACE + 4) !== "RGB ") return undefined;
    const tags = new Map<string, Buffer>();
    for (let k = 0; k < Math.min(100, profile.readUInt32BE(TAG_COUNT)); k++) {
      const at = TAGS + TAG_BYTES * k;
      const from = profile.readUInt32BE(at + 4);
      tags.set(profile.toString("latin1", at, at + 4), profile.subarray(from, from + profile.readUInt32BE(at + 8)));
    }
    const tag = (name: string) => tags.get(name) ?? Buffer.alloc(0);
    if (tags.has("A2B0") || !["r", "g", "b"].every((c) => isSrgbCurve(tag(`${c}TRC`)))) return undefined;
    return primariesOfColorants(["r", "g", "b"].flatMap((c) => [8, 12, 16].map((at) => fixed(tag(`${c}XYZ`), at))));
  } catch {
    // A damaged profile says nothing; the library that converts it has the last word.
    return undefined;
  }
}

/** A number of sixteen bits before and sixteen behind the point. */
const fixed = (tag: Buffer, at: number): number => tag.readInt32BE(at) / 65536;

function isSrgbCurve(tag: Buffer): boolean {
  const type = tag.toString("latin1", 0, 4);
  const curve = type === "para" ? parametric(tag) : type === "curv" && tag.readUInt32BE(8) > 1 ? tabled(tag) : undefined;
  return curve !== undefined && HELD_AT.every((v) => Math.abs(curve(v) - srgbToLinear(v)) < OFF);
}

/** A power with a straight part, as 10.16 of the standard writes sRGB's: the fourth and fifth of its functions. */
function parametric(tag: Buffer): ((v: number) => number) | undefined {
  const kind = tag.readUInt16BE(8);
  if (kind !== 3 && kind !== 4) return undefined;
  const at = (k: number) => fixed(tag, 12 + 4 * k);
  const [g, a, b, c, d] = [at(0), at(1), at(2), at(3), at(4)];
  const [e, f] = kind === 4 ? [at(5), at(6)] : [0, 0];
  return (v) => (v >= d ? (a * v + b) ** g + e : c * v + f);
}

function tabled(tag: Buffer): (v: number) => number {
  const last = tag.readUInt32BE(8) - 1;
  return (v) => {
    const low = Math.min(last - 1, Math.floor(v * last));
    const at = (k: number) => tag.readUInt16BE(12 + 2 * k) / 65535;
    return at(low) + (v * last - low) * (at(low + 1) - at(low));
  };
}
