import { readFileSync, writeFileSync } from "node:fs";

/** Offset of the display matrix in a track header of version 0, from its type on. Source: ISO/IEC 14496-12, 8.3.2. */
const MATRIX = 44;

/** Writes a clip (MP4, MOV) again with a note that its frames are to be turned clockwise, as phones write it. @param degrees whole quarters */
export function turnedClip(from: string, to: string, degrees: number): void {
  const bytes = readFileSync(from);
  const at = bytes.indexOf("tkhd");
  if (at < 0 || bytes[at + 4] !== 0) throw new Error(`${from} has no track header of version 0.`);
  const angle = (degrees * Math.PI) / 180;
  const [c, s] = [Math.round(Math.cos(angle)), Math.round(Math.sin(angle))];
  // 16.16 fixed point, but for the last column, which is 2.30.
  [c * 65536, s * 65536, 0, -s * 65536, c * 65536, 0, 0, 0, 2 ** 30].forEach((v, i) => {
    bytes.writeInt32BE(v, at + MATRIX + 4 * i);
  });
  writeFileSync(to, bytes);
}
