import { describe, expect, it } from "vitest";
import { makePlane, type Plane } from "../image/plane";
import { applyBounds, automaticBounds } from "./auto-bounds";
import { adjustEdge, softenWideGreys } from "./edge";

const settings = { outLevel: 0.06, grow: 6, inLevel: 0.85, shrink: 6, soft: 2, specks: 12, islands: 0 };
const W = 200;
const H = 120;
/** A solid block from x = 60 to 140. */
function block(): Plane {
  const m = makePlane(W, H);
  for (let y = 0; y < H; y++) for (let x = 60; x < 140; x++) m.data[y * W + x] = 1;
  return m;
}
const square = (m: Plane, x0: number, y0: number, size: number, v: number): Plane => {
  for (let y = y0; y < y0 + size; y++) for (let x = x0; x < x0 + size; x++) m.data[y * W + x] = v;
  return m;
};
const bounded = (m: Plane, scale = 1) => applyBounds(m, automaticBounds(m, settings, scale));

describe("automatic bounds", () => {
  it("leave a clean matte as it is", () => {
    const m = block();
    expect([...bounded(m).data]).toEqual([...m.data]);
  });
  it("close a reflection inside and throw away faint residue outside", () => {
    const m = square(square(block(), 95, 50, 9, 0.75), 10, 20, 8, 0.05);
    const out = bounded(m);
    expect(out.data[54 * W + 99]).toBe(1);
    expect(out.data[24 * W + 14]).toBe(0);
  });
  it("close what is half open where it is small, and leave it where it may be a veil out of focus", () => {
    const tall = makePlane(360, 360, 1);
    const put = (x0: number, size: number) => {
      for (let y = 180; y < 180 + size; y++) tall.data.fill(0.55, y * 360 + x0, y * 360 + x0 + size);
    };
    put(100, 5);
    put(200, 20);
    const out = bounded(tall);
    expect([out.data[182 * 360 + 102], out.data[190 * 360 + 210]]).toEqual([1, Math.fround(0.55)]);
  });
  it("keep a true gap to the screen open", () => {
    const out = bounded(square(block(), 95, 50, 9, 0));
    expect(out.data[54 * W + 99]).toBe(0);
  });
  it("do not touch the soft edge", () => {
    const m = block();
    for (let y = 0; y < H; y++)
      [0.2, 0.5, 0.8].forEach((v, k) => {
        m.data[y * W + 57 + k] = v;
      });
    const out = bounded(m);
    for (let y = 5; y < H - 5; y++) for (let x = 54; x < 62; x++) expect(out.data[y * W + x]).toBe(m.data[y * W + x]);
  });
  it("never fill strands: gaps that follow one another stay open, even small ones", () => {
    const m = makePlane(W, H);
    for (let y = 0; y < H; y++) for (let x = 60; x < 140; x++) m.data[y * W + x] = x % 4 === 0 || y % 4 === 0 ? 0.9 : 0.1;
    const out = bounded(m);
    for (let y = 20; y < 100; y++) for (let x = 70; x < 130; x++) expect(out.data[y * W + x]).toBeCloseTo(m.data[y * W + x]!, 6);
  });
  it("drop specks by area, and keep what is larger", () => {
    const out = bounded(square(square(block(), 20, 20, 3, 1), 20, 60, 8, 1));
    expect(out.data[21 * W + 21]).toBe(0);
    expect(out.data[64 * W + 24]).toBe(1);
  });
  it("drop islands as large as markers, and leave pinholes of that size alone", () => {
    const marked = square(square(block(), 20, 20, 8, 1), 100, 60, 8, 0);
    const b = automaticBounds(marked, { ...settings, islands: 70 }, 1);
    const out = applyBounds(marked, b);
    expect(out.data[24 * W + 24]).toBe(0);
    expect(out.data[64 * W + 104]).toBe(0);
    const kept = applyBounds(marked, automaticBounds(marked, settings, 1));
    expect(kept.data[24 * W + 24]).toBe(1);
    expect(kept.data[64 * W + 104]).toBe(0);
  });
  it("cut off a marker that hangs on the subject by its shadow alone; not what is held, what is soft, or of another size", () => {
    const asked = (m: Plane, islands: number) => {
      const bounds = automaticBounds(m, { ...settings, grow: 2, islands }, 1);
      return (x: number, y: number) => applyBounds(m, bounds).data[y * W + x]!;
    };
    /** A thing of 8 px that stands 12 px beside the block, with a bridge to it. */
    const bridged = (thing: number, bridge: number) => {
      const m = square(block(), 40, 40, 8, thing);
      for (let y = 44; y < 47; y++) m.data.fill(bridge, y * W + 48, y * W + 60);
      return m;
    };
    const shadowed = asked(bridged(1, 0.3), 90);
    expect([shadowed(44, 44), shadowed(50, 45)]).toEqual([0, 0]);
    // What of the shadow is nearer to the subject is the subject's.
    expect(shadowed(57, 45)).toBeCloseTo(0.3, 6);
    expect(asked(bridged(1, 0.3), 0)(44, 44)).toBe(1);
    expect(asked(bridged(1, 0.3), 50)(44, 44)).toBe(1);
    expect(asked(bridged(1, 0.3), 900)(44, 44)).toBe(1);
    expect(asked(bridged(1, 0.7), 90)(44, 44)).toBe(1);
    expect(asked(bridged(0.6, 0.3), 90)(44, 44)).toBeCloseTo(0.6, 6);
  });
  it("drop faint islands that stand alone, and leave those that are stronger, larger or in a crowd, and all without being asked", () => {
    const m = square(square(square(block(), 20, 20, 8, 0.08), 20, 60, 8, 0.2), 165, 15, 25, 0.08);
    for (let k = 0; k < 3; k++) square(m, 160 + 10 * k, 80, 8, 0.08);
    const at = (x: number, y: number, b = automaticBounds(m, { ...settings, faint: 0.12 }, 1)) => applyBounds(m, b).data[y * W + x];
    expect(at(24, 24)).toBe(0);
    expect(at(24, 64)).toBeCloseTo(0.2, 6);
    expect(at(177, 27)).toBeCloseTo(0.08, 6);
    expect(at(164, 84)).toBeCloseTo(0.08, 6);
    expect(at(24, 24, automaticBounds(m, settings, 1))).toBeCloseTo(0.08, 6);
  });
  it("throw away screen in shade that hangs on no subject; not dark mesh on one, not what is as dark as a black thing, not without being asked", () => {
    const m = block();
    const shade = new Uint8Array(W * H);
    const put = (x0: number, y0: number, w: number, h: number, v: number) => {
      for (let y = y0; y < y0 + h; y++) for (let x = x0; x < x0 + w; x++) m.data[y * W + x] = v;
      // Shade is told by the mean around a pixel, so its surroundings count.
      for (let y = y0 - 2; y < y0 + h + 2; y++) for (let x = x0 - 2; x < x0 + w + 2; x++) if (x < 60 || x >= 140) shade[y * W + x] = 1;
    };
    // A seam that runs to the block, a fold, a line in glass; and a veil along the block's side.
    put(10, 60, 50, 5, 0.5);
    put(170, 10, 12, 40, 0.6);
    put(170, 80, 12, 20, 0.95);
    put(140, 20, 4, 80, 0.5);
    const none = { thin: new Uint8Array(W * H), missing: { lack: () => 0, own: () => 0 } };
    const out = applyBounds(m, automaticBounds(m, settings, 1, undefined, { wide: shade, ...none }));
    expect(out.data[62 * W + 30]).toBe(0);
    expect(out.data[30 * W + 176]).toBe(0);
    expect(out.data[90 * W + 176]).toBeCloseTo(0.95, 6);
    expect(out.data[50 * W + 141]).toBeCloseTo(0.5, 6);
    const kept = applyBounds(m, automaticBounds(m, settings, 1));
    expect(kept.data[62 * W + 30]).toBeCloseTo(0.5, 6);
    expect(kept.data[30 * W + 176]).toBeCloseTo(0.6, 6);
  });
  it("throw away a stain by the frame's shorter side, so that one in an upright frame goes as it would in a broad one", () => {
    for (const [width, height] of [
      [400, 100],
      [100, 400],
    ] as const) {
      const m = makePlane(width, height);
      for (let y = 50; y < 54; y++) for (let x = 50; x < 54; x++) m.data[y * width + x] = 0.5;
      const shade = { wide: new Uint8Array(width * height).fill(1), thin: new Uint8Array(width * height) };
      const bounds = automaticBounds(m, settings, 1, undefined, { ...shade, missing: { lack: () => 0, own: () => 0 } });
      expect(applyBounds(m, bounds).data[51 * width + 51], `${width}×${height}`).toBe(0);
    }
  });
  it("leave mesh alone that is as dark as a shadow, with openings wide or narrow: it is woven, a fold and a stain are not", () => {
    for (const pitch of [4, 9]) {
      const m = block();
      const shade = new Uint8Array(W * H).fill(1);
      for (let y = 20; y < 90; y++) for (let x = 62; x < 139; x++) shade[y * W + x] = 0;
      for (let y = 10; y < 50; y++) for (let x = 10; x < 50; x++) m.data[y * W + x] = x % pitch === 0 || y % pitch === 0 ? 0.4 : 0;
      for (let y = 60; y < 95; y++) for (let x = 10; x < 50; x++) m.data[y * W + x] = 0.4 * Math.exp(-(((x - 30) / 8) ** 2));
      const none = { thin: new Uint8Array(W * H), missing: { lack: () => 0, own: () => 0 } };
      const out = applyBounds(m, automaticBounds(m, settings, 1, undefined, { wide: shade, ...none }));
      expect(out.data[36 * W + 36]).toBeCloseTo(0.4, 6);
      expect(out.data[78 * W + 30]).toBe(0);
    }
  });
  it("throw away thin shade up to the subject, when all its pixels lack light and nothing has come instead", () => {
    const m = block();
    const thin = new Uint8Array(W * H);
    const line = (y: number, value: number) => {
      for (let x = 5; x < 58; x++) {
        m.data[y * W + x] = value;
        thin[y * W + x] = 1;
      }
      // Its end is mixed with the block and tells nothing.
      m.data[y * W + 58] = m.data[y * W + 59] = value;
    };
    // A seam, a strand of black hair, and a black line.
    line(40, 0.4);
    line(60, 0.4);
    line(80, 0.9);
    const hair = (i: number) => Math.floor(i / W) === 60;
    const missing = { lack: () => 0.2, own: (i: number) => (hair(i) ? 0.03 : i % 2 ? 0.04 : -0.03) };
    const out = applyBounds(m, automaticBounds(m, settings, 1, undefined, { wide: new Uint8Array(W * H), thin, missing }));
    expect(out.data[40 * W + 30]).toBe(0);
    expect(out.data[60 * W + 30]).toBeCloseTo(0.4, 6);
    expect(out.data[80 * W + 30]).toBeCloseTo(0.9, 6);
  });
  it("throw away the pieces into which grain breaks a seam beside what is out of it; not such a piece elsewhere, nor one of hair", () => {
    const m = makePlane(W, H);
    const thin = new Uint8Array(W * H);
    const stripe = (x0: number, y: number, w: number) => {
      m.data.fill(0.6, y * W + x0, y * W + x0 + w);
      thin.fill(1, y * W + x0 - 1, y * W + x0 + w + 1);
    };
    // One long piece and four of its line, the last beyond reach of it; and one of hair.
    stripe(10, 40, 40);
    stripe(55, 40, 1);
    stripe(59, 40, 1);
    stripe(80, 40, 1);
    stripe(30, 46, 1);
    const hair = (i: number) => Math.floor(i / W) > 43;
    const missing = { lack: () => 0.2, own: (i: number) => (hair(i) ? 0.2 : 0) };
    const shade = { wide: new Uint8Array(W * H), thin, missing };
    const bounds = { ...settings, specks: 0, islands: 0, grow: 1 };
    const out = applyBounds(m, automaticBounds(m, bounds, 1, undefined, shade));
    expect([30, 55, 59].map((x) => out.data[40 * W + x])).toEqual([0, 0, 0]);
    expect(out.data[40 * W + 80]).toBeCloseTo(0.6, 6);
    expect(out.data[46 * W + 30]).toBeCloseTo(0.6, 6);
  });
  it("hold noise in the core at 1 where the pull wavers", () => {
    const m = block();
    for (let i = 0; i < m.data.length; i++) if (m.data[i] === 1) m.data[i] = i % 3 ? 1 : 0.93;
    const out = bounded(m);
    for (let y = 10; y < H - 10; y++) for (let x = 72; x < 128; x++) expect(out.data[y * W + x]).toBe(1);
  });
});

describe("edge position and softness", () => {
  /** A straight edge with a ramp of 8 px, its middle at x = 100. */
  const ramp = (): Plane => {
    const m = makePlane(W, 20);
    for (let i = 0; i < m.data.length; i++) m.data[i] = Math.min(1, Math.max(0, 0.5 + ((i % W) - 100) / 8));
    return m;
  };
  const middle = (m: Plane) => {
    const row = m.data.subarray(10 * W, 11 * W);
    const x = row.findIndex((v) => v >= 0.5);
    return x - (row[x]! - 0.5) / (row[x]! - row[x - 1]!);
  };
  it.each([-3, -1, -0.5, -0.1, 0.1, 0.5, 1, 2.4])("moves a straight edge by %d px", (shift) => {
    expect(middle(adjustEdge(ramp(), shift, 0))).toBeCloseTo(100 - shift, 3);
  });
  it("softens the edge and keeps its middle; solid and empty stay", () => {
    const out = adjustEdge(ramp(), 0, 1.5);
    expect(middle(out)).toBeCloseTo(100, 3);
    expect(out.data[10 * W + 80]).toBe(0);
    expect(out.data[10 * W + 120]).toBeCloseTo(1, 6);
  });
});

describe("softening motion blur alone", () => {
  const [width, height] = [200, 24];
  /** A ramp of the given width about column 100, with one column of grain on its slope. */
  const climb = (wide: number) => {
    const plane = makePlane(width, height);
    for (let i = 0; i < plane.data.length; i++) {
      const x = i % width;
      const m = Math.min(1, Math.max(0, (100 - x) / wide + 0.5));
      plane.data[i] = m > 0.05 && m < 0.95 ? m + (x % 2 ? 0.04 : -0.04) : m;
    }
    return plane;
  };
  const roughness = (p: { data: Float32Array }) => {
    let sum = 0;
    for (let x = 85; x < 115; x++) sum += Math.abs(p.data[12 * width + x]! - p.data[12 * width + x - 1]!);
    return sum;
  };
  it("smooths greys that climb over many pixels", () => {
    const blurred = climb(60);
    expect(roughness(softenWideGreys(blurred, 3, 1))).toBeLessThan(0.4 * roughness(blurred));
  });
  it("leaves a crisp edge exactly as it is", () => {
    const crisp = climb(4);
    expect(softenWideGreys(crisp, 3, 1).data).toEqual(crisp.data);
  });
  it("measures widths at full size: a half-size ramp of 30 px is one of 60", () => {
    const half = climb(20);
    expect(roughness(softenWideGreys(half, 2, 0.25))).toBeLessThan(0.7 * roughness(half));
  });
});
