import { describe, expect, it } from "vitest";
import { brief, bytes, grouped, seconds, whole } from "./format";

const NARROW = "\u202f";

describe("figures on the page", () => {
  it("have their thousands set apart by narrow spaces that do not break", () => {
    expect([0, 999, 1000, 13_023.4, 1_234_567].map(whole)).toEqual([
      "0",
      "999",
      `1${NARROW}000`,
      `13${NARROW}023`,
      `1${NARROW}234${NARROW}567`,
    ]);
  });
  it("are thousands where there is little room, from ten of them on", () => {
    expect([345, 9999, 9999.7, 12_335, 1_234_567].map(brief)).toEqual(["345", `9${NARROW}999`, "10k", "12k", `1${NARROW}235k`]);
  });
  it("so do those within words; short ones and decimals stay", () => {
    expect(grouped("The other 5425 px counted lie in soft edges; 998 px do not.")).toBe(
      `The other 5${NARROW}425 px counted lie in soft edges; 998 px do not.`,
    );
    expect(grouped("weight 0.12345, 12345.6 px, 98.1 %")).toBe("weight 0.12345, 12345.6 px, 98.1 %");
    expect(grouped("13023 px².")).toBe("13023 px².".replace("13", `13${NARROW}`));
  });
  it("are sizes and times in the unit that reads best", () => {
    expect([2048, 5 * 1024 ** 2, 3 * 1024 ** 3].map(bytes)).toEqual(["2 kB", "5.0 MB", "3.00 GB"]);
    expect([0.2, 59, 61, 3600].map(seconds)).toEqual(["1 s", "59 s", "1 min 1 s", "60 min 0 s"]);
  });
});
