import { encodeWith } from "../color/transfer";
import { codeScale, LUMA } from "../color/ycbcr";
import { normal } from "../image/normal";
import type { Picture } from "../image/plane";
import { random } from "../image/random";
import { type ColourReading, planeSizes, type RawFrame, type RawLayout } from "../image/raw-frame";
import { quantiseBlocks } from "./block-transform";
import type { Camera } from "./stage";

/** Adds shot noise (variance grows with the light) and read noise, linear light, in place of the sensor. */
export function addNoise(picture: Picture, camera: Camera): Picture {
  const gain = 2 ** camera.gain;
  const shot = camera.shotNoise * gain;
  const read = camera.readNoise * gain;
  if (shot === 0 && read === 0) return picture;
  const next = normal(random(camera.seed));
  const noisy = (c: Float32Array) => {
    const out = new Float32Array(c.length);
    for (let i = 0; i < out.length; i++) {
      const v = c[i] as number;
      out[i] = v + Math.sqrt(Math.max(0, v) * shot + read * read) * next();
    }
    return out;
  };
  const { width, height } = picture;
  return { width, height, r: noisy(picture.r), g: noisy(picture.g), b: noisy(picture.b) };
}

/** One chroma plane at its own resolution: the mean of the luma-sized samples it stands for, weighted by the siting. */
function subsample(full: Float32Array, width: number, height: number, cw: number, ch: number, camera: Camera): Float32Array {
  const out = new Float32Array(cw * ch);
  // Co-sited samples take 1-2-1, centred ones 1-1.
  const across: [number, number][] =
    camera.subsampling === "444"
      ? [[0, 1]]
      : camera.siting === "center"
        ? [
            [0, 0.5],
            [1, 0.5],
          ]
        : [
            [-1, 0.25],
            [0, 0.5],
            [1, 0.25],
          ];
  const down: [number, number][] =
    camera.subsampling !== "420"
      ? [[0, 1]]
      : camera.siting === "topleft"
        ? [
            [-1, 0.25],
            [0, 0.5],
            [1, 0.25],
          ]
        : [
            [0, 0.5],
            [1, 0.5],
          ];
  const sx = camera.subsampling === "444" ? 1 : 2;
  const sy = camera.subsampling === "420" ? 2 : 1;
  for (let y = 0; y < ch; y++)
    for (let x = 0; x < cw; x++) {
      let sum = 0;
      for (let k = 0; k < down.length; k++) {
        const [dy, wy] = down[k] as [number, number];
        const row = Math.min(height - 1, Math.max(0, y * sy + dy)) * width;
        for (let j = 0; j < across.length; j++) {
          const [dx, wx] = across[j] as [number, number];
          sum += wy * wx * (full[row + Math.min(width - 1, Math.max(0, x * sx + dx))] as number);
        }
      }
      out[y * cw + x] = sum;
    }
  return out;
}

/** How the file that {@link record} makes is to be read. */
export const cameraReading = (c: Camera): ColourReading => ({ transfer: c.transfer, matrix: c.matrix, range: c.range, siting: c.siting });

/** What the camera writes: noise, curve, matrix, chroma subsampling, block transform, whole codes. */
export function record(light: Picture, camera: Camera): RawFrame {
  const { width, height } = light;
  const noisy = addNoise(light, camera);
  const encode = encodeWith(camera.transfer);
  const { kr, kb } = LUMA[camera.matrix];
  const scale = codeScale(camera.range, camera.bits);
  const n = width * height;
  const luma = new Float32Array(n);
  const cb = new Float32Array(n);
  const cr = new Float32Array(n);
  for (let i = 0; i < n; i++) {
    const r = encode(noisy.r[i] as number);
    const g = encode(noisy.g[i] as number);
    const b = encode(noisy.b[i] as number);
    const y = kr * r + (1 - kr - kb) * g + kb * b;
    luma[i] = y / scale.yScale + scale.yOffset;
    cb[i] = (b - y) / (2 * (1 - kb)) / scale.cScale + scale.cOffset;
    cr[i] = (r - y) / (2 * (1 - kr)) / scale.cScale + scale.cOffset;
  }
  const layout: RawLayout = { kind: "ycbcr", subsampling: camera.subsampling, bits: camera.bits, alpha: false };
  const [, chroma] = planeSizes(width, height, layout) as [unknown, { width: number; height: number }];
  const planes = [
    { data: luma, width, height },
    { data: subsample(cb, width, height, chroma.width, chroma.height, camera), ...chroma },
    { data: subsample(cr, width, height, chroma.width, chroma.height, camera), ...chroma },
  ];
  const top = 2 ** camera.bits - 1;
  return {
    width,
    height,
    layout,
    planes: planes.map((p) => {
      if (camera.blockStep > 0) quantiseBlocks(p.data, p.width, p.height, camera.blockStep * 2 ** (camera.bits - 8));
      const codes = new Uint16Array(p.data.length);
      for (let i = 0; i < codes.length; i++) codes[i] = Math.min(top, Math.max(0, Math.round(p.data[i] as number)));
      return codes;
    }),
  };
}
