import { describe, expect, it } from "vitest";
import { makePlane } from "../image/plane";
import { subjectOutline } from "./figures";
import { lostEdge } from "./lost-edge";
import { strandsPlace } from "./strands";

/** A crisp body on the left with a shoulder under y 60, and strands (every fourth column half covered) that stand on it at x 70…90, y 20…60. */
function head() {
  const pull = makePlane(120, 80);
  for (let y = 0; y < 80; y++)
    for (let x = 0; x < 120; x++) {
      const strand = x >= 70 && x < 90 && y >= 20 && y < 60 && x % 4 === 0;
      pull.data[y * 120 + x] = x < 40 || (x < 92 && y >= 60) ? 1 : strand ? 0.4 : 0;
    }
  return pull;
}

describe("strands that a gentler pass would bring back", () => {
  it("counts soft edge pushed to 0 or 1, and nothing under garbage", () => {
    const pull = head();
    const matte = { ...pull, data: pull.data.map((v) => (v < 0.5 ? 0 : 1)) };
    const solid = subjectOutline(pull, 1);
    const { soft, lost, marks } = lostEdge(pull, matte, undefined, solid);
    expect([soft, lost]).toEqual([200, 200]);
    expect(marks[30 * 120 + 72]).toBeCloseTo(0.4, 6);
    const garbage = { ...pull, data: pull.data.map(() => 1) };
    expect(lostEdge(pull, matte, garbage, solid).soft).toBe(0);
    // What a hand holds is no edge that levels lost: here the upper half of the strands.
    const held = { ...pull, data: pull.data.map((_, i) => (i < 40 * 120 ? 1 : 0)) };
    expect(lostEdge(pull, matte, undefined, solid, held)).toMatchObject({ soft: 100, lost: 100 });
  });

  it("counts no grain that is closed amid what is solid, and still counts what is half open there", () => {
    const pull = head();
    // Every other pixel of the body wavers under what passes for solid.
    for (let y = 4; y < 40; y++) for (let x = 4; x < 30; x++) if ((x + y) % 2 === 0) pull.data[y * 120 + x] = 0.88;
    const matte = { ...pull, data: pull.data.map((v) => (v < 0.5 ? 0 : 1)) };
    const solid = subjectOutline(pull, 1);
    expect(lostEdge(pull, matte, undefined, solid)).toMatchObject({ soft: 200, lost: 200 });
    for (let y = 50; y < 55; y++) for (let x = 10; x < 15; x++) pull.data[y * 120 + x] = 0.6;
    expect(lostEdge(pull, matte, undefined, solid)).toMatchObject({ soft: 225, lost: 225 });
  });

  it("counts no dip amid what is solid that lets nothing through, and still counts as much beside what is clear", () => {
    const pull = head();
    for (let y = 50; y < 60; y++) for (let x = 10; x < 20; x++) pull.data[y * 120 + x] = 0.72;
    const matte = { ...pull, data: pull.data.map((v) => (v < 0.5 ? 0 : 1)) };
    const solid = subjectOutline(pull, 1);
    expect(lostEdge(pull, matte, undefined, solid)).toMatchObject({ soft: 200, lost: 200 });
    for (let y = 10; y < 14; y++) for (let x = 36; x < 40; x++) pull.data[y * 120 + x] = 0.72;
    expect(lostEdge(pull, matte, undefined, subjectOutline(pull, 1))).toMatchObject({ soft: 216, lost: 216 });
  });

  it("counts no fold of the screen that hangs on no subject", () => {
    const pull = head();
    const matte = { ...pull, data: pull.data.map((v) => (v < 0.5 ? 0 : 1)) };
    for (let y = 0; y < 80; y++) for (let x = 104; x < 112; x++) pull.data[y * 120 + x] = 0.3;
    const solid = subjectOutline(pull, 1);
    expect(lostEdge(pull, matte, undefined, solid).soft).toBe(200);
  });

  it("finds the place of the strands and the share that is lost there", () => {
    const pull = head();
    // The upper half of the strands is lost, the lower half is kept.
    const matte = { ...pull, data: pull.data.map((v, i) => (v === 1 ? 1 : i < 40 * 120 ? 0 : v)) };
    const found = strandsPlace(pull, lostEdge(pull, matte, undefined, subjectOutline(pull, 4)), 0.5, 24)!;
    expect(found.loss).toBeGreaterThan(0.5);
    expect(found.place.x).toBeGreaterThanOrEqual(2 * 60);
    expect(found.place.x + found.place.width).toBeLessThanOrEqual(2 * 100);
  });

  it("says nothing where the matte keeps its greys", () => {
    const pull = head();
    expect(strandsPlace(pull, lostEdge(pull, pull, undefined, subjectOutline(pull, 1)), 1, 24)).toBeNull();
  });
});
