import { execFileSync } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, expect, it } from "vitest";
import { executable } from "../media/ffmpeg";
import { writeProres } from "./prores";

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), "sieve-prores-"));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

it("tells another reader the shape of pixels and the timecode that the plate has", async () => {
  const frame = path.join(folder, "frame.raw");
  writeFileSync(frame, Buffer.alloc(64 * 36 * 8, 0x80));
  const target = path.join(folder, "foreground.mov");
  const job = { frames: [frame, frame], width: 64, height: 36, rate: { num: 30_000, den: 1001 }, target, sound: null };
  await writeProres({ ...job, pixelAspect: 16 / 15, timecode: "10:01:00;02", signal: new AbortController().signal });
  const probe = JSON.parse(
    execFileSync(executable("ffprobe"), ["-v", "error", "-show_streams", "-show_format", "-of", "json", target]).toString(),
  );
  const video = probe.streams.find((s: { codec_type: string }) => s.codec_type === "video");
  expect(video).toMatchObject({ sample_aspect_ratio: "16:15", r_frame_rate: "30000/1001", nb_frames: "2" });
  expect(video.tags.timecode).toBe("10:01:00;02");
});
