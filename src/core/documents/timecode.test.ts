import { describe, expect, it } from "vitest";
import { timecode } from "./timecode";

describe("timecode", () => {
  it("is counted without drops from the start that the file tells", () => {
    const film = { num: 24, den: 1 };
    expect(timecode(1, film, null)).toBe("00:00:00:00");
    expect(timecode(25, film, "01:00:00:00")).toBe("01:00:01:00");
    // 23.976 counts as 24, frame by frame.
    expect(timecode(1 + 24 * 60, { num: 24_000, den: 1001 }, "10:59:00:00")).toBe("11:00:00:00");
    expect(timecode(2, { num: 30_000, den: 1001 }, "00:00:59:29")).toBe("00:01:00:00");
    expect(timecode(2, film, "23:59:59:23")).toBe("00:00:00:00");
  });

  // SMPTE ST 12-1: 0 and 1 are left out at every minute but 0, 10, 20, 30, 40 and 50; an hour has 107 892 frames at 29.97.
  it.each([
    ["00:00:59;29", 2, "00:01:00;02"],
    ["00:01:59;29", 2, "00:02:00;02"],
    ["00:09:59;29", 2, "00:10:00;00"],
    ["00:10:59;29", 2, "00:11:00;02"],
    ["00:00:00;00", 1 + 1800, "00:01:00;02"],
    ["00:00:00;00", 1 + 17_982, "00:10:00;00"],
    ["00:00:00;00", 1 + 107_892, "01:00:00;00"],
    ["10:00:00;00", 1 + 107_892, "11:00:00;00"],
  ])("with drops goes on from %s, frame %d, as %s", (start, frame, told) => {
    expect(timecode(frame, { num: 30_000, den: 1001 }, start)).toBe(told);
  });

  it("drops four numbers at 59.94, and none at 60 or 25", () => {
    expect(timecode(2, { num: 60_000, den: 1001 }, "00:00:59;59")).toBe("00:01:00;04");
    expect(timecode(2, { num: 60, den: 1 }, "00:00:59;59")).toBe("00:01:00:00");
    expect(timecode(2, { num: 25, den: 1 }, "00:00:59;24")).toBe("00:01:00:00");
  });
});
