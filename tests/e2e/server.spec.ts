import { execFileSync } from "node:child_process";
import { readdirSync, readFileSync } from "node:fs";
import { request as httpRequest } from "node:http";
import path from "node:path";
import { expect, test } from "@playwright/test";
import { decode as decodePng } from "fast-png";
import { BenchServer } from "./bench-server";

interface Delivery {
  id: number;
  state: string;
  doneFrames: number;
  totalFrames: number;
  resumed: number;
  folder: string;
  error: string | null;
}
interface ShotAnswer {
  recipe: { passes: { matte: { white: number } }[] };
  revision: number;
}

const server = new BenchServer(4472);
test.beforeAll(async () => {
  server.seed();
  await server.start();
});
test.afterAll(() => server.remove());

const post = (body: unknown, headers: Record<string, string> = {}): RequestInit => ({
  method: "POST",
  body: typeof body === "string" ? body : JSON.stringify(body),
  headers: { "content-type": "application/json", ...headers },
});
const settings = (format: "png" | "mov", lastFrame: number) => ({ format, alpha: "straight", firstFrame: 1, lastFrame });

async function until(id: number, want: (d: Delivery) => boolean): Promise<Delivery> {
  for (let tries = 0; tries < 600; tries++) {
    const d = await server.json<Delivery>(`/api/deliveries/${id}`);
    if (want(d)) return d;
    if (d.state === "failed") throw new Error(d.error ?? "failed");
    await new Promise((r) => setTimeout(r, 200));
  }
  throw new Error("timed out");
}

test("a delivery goes on after the server was killed in the middle of it, and nothing is lost", async ({ page }) => {
  const before = await server.json<ShotAnswer>("/api/shots/1");
  const total = 12;
  const started = await server.json<Delivery>("/api/shots/1/deliveries", post(settings("png", total)));
  const half = await until(started.id, (d) => d.doneFrames >= 2);
  expect(half.doneFrames).toBeLessThan(total);
  await server.kill();
  const kept = readdirSync(half.folder).filter((n) => n.endsWith(".png"));
  expect(kept.length).toBeGreaterThanOrEqual(2);
  expect(kept.length).toBeLessThan(total);
  const first = readFileSync(path.join(half.folder, kept[0]!));

  await server.start();
  const done = await until(started.id, (d) => d.state === "done");
  expect(done.resumed).toBe(1);
  const files = readdirSync(done.folder)
    .filter((n) => n.endsWith(".png"))
    .sort();
  expect(files).toHaveLength(total);
  expect(files[0]).toBe("foreground.0001.png");
  // What was finished before was not done again; every file is whole.
  expect(readFileSync(path.join(done.folder, kept[0]!)).equals(first)).toBe(true);
  for (const f of files) expect(decodePng(readFileSync(path.join(done.folder, f))).channels).toBe(4);
  const after = await server.json<ShotAnswer>("/api/shots/1");
  expect(after).toEqual(before);

  await page.goto(`${server.address}/shots/1`);
  await expect(page.getByRole("navigation", { name: "Steps" })).toBeVisible();
  await page.keyboard.press("0");
  await expect(page.getByTestId(`delivery-${started.id}`)).toContainText("Taken up again after a restart");
});

test("a ProRes 4444 clip holds alpha and sound", async ({ page: _ }, info) => {
  const clip = info.outputPath("talk.mov");
  execFileSync("ffmpeg", [
    "-v",
    "error",
    "-y",
    "-f",
    "lavfi",
    "-i",
    "color=c=0x32aa3c:size=160x90:rate=24:duration=0.5",
    "-f",
    "lavfi",
    "-i",
    "sine=frequency=440:duration=0.5",
    "-vf",
    "drawbox=60:30:40:40:color=0xb4b4b4:t=fill",
    "-c:v",
    "prores_ks",
    "-profile:v",
    "3",
    "-pix_fmt",
    "yuv422p10le",
    "-c:a",
    "pcm_s16le",
    clip,
  ]);
  const media = await server.json<{ id: string; info: { audio: unknown } }>("/api/media?name=talk.mov", {
    method: "POST",
    body: readFileSync(clip),
  });
  expect(media.info.audio).not.toBeNull();
  const shot = await server.json<{ id: number }>("/api/jobs/1/shots", post({ name: "Talk", plateId: media.id }));
  const { recipe, revision } = await server.json<{ recipe: { screen: object }; revision: number }>(`/api/shots/${shot.id}`);
  const keyed = { ...recipe, screen: { boxes: [], colour: { r: 0.032, g: 0.4, b: 0.045 } } };
  await server.json(`/api/shots/${shot.id}/changes`, post({ recipe: keyed, revision, entry: null }));
  const started = await server.json<Delivery>(`/api/shots/${shot.id}/deliveries`, post(settings("mov", 12)));
  const done = await until(started.id, (d) => d.state === "done");
  const file = path.join(done.folder, "foreground.mov");
  const probe = JSON.parse(execFileSync("ffprobe", ["-v", "error", "-count_frames", "-show_streams", "-of", "json", file]).toString());
  const video = probe.streams.find((s: { codec_type: string }) => s.codec_type === "video");
  const audio = probe.streams.find((s: { codec_type: string }) => s.codec_type === "audio");
  expect(video).toMatchObject({ codec_name: "prores", width: 160, height: 90, nb_read_frames: "12", color_space: "bt709" });
  expect(video.pix_fmt).toMatch(/^yuva444p1/);
  expect(Number(audio.duration)).toBeCloseTo(0.5, 1);
  const alpha = execFileSync("ffmpeg", [
    "-v",
    "error",
    "-i",
    file,
    "-frames:v",
    "1",
    "-vf",
    "alphaextract,format=gray16le",
    "-f",
    "rawvideo",
    "pipe:1",
  ]);
  const at = (x: number, y: number) => alpha.readUInt16LE(2 * (y * 160 + x)) / 65535;
  expect(at(80, 50)).toBeGreaterThan(0.97);
  expect(at(10, 10)).toBeLessThan(0.06);
});

test("a delivery is cancelled and leaves no files", async () => {
  const started = await server.json<Delivery>("/api/shots/1/deliveries", post(settings("png", 12)));
  await server.json(`/api/deliveries/${started.id}`, { method: "DELETE" });
  const d = await until(started.id, (x) => x.state === "cancelled");
  await new Promise((r) => setTimeout(r, 1500));
  expect(readdirSync(d.folder).filter((n) => n.endsWith(".png"))).toEqual([]);
});

test("bad requests get a plain word; the server lives and the database is whole", async () => {
  const before = await server.json<ShotAnswer>("/api/shots/1");
  const saidBefore = server.said;
  const refused = async (url: string, init: RequestInit, status: number, message: RegExp) => {
    const response = await server.fetch(url, init);
    const body = (await response.json()) as { error: { what: string; remedy: string } };
    expect(response.status, url).toBe(status);
    expect(`${body.error.what} ${body.error.remedy}`).toMatch(message);
  };
  const change = (recipe: unknown) => post({ recipe, revision: before.revision, entry: null });
  await refused(
    "/api/shots/1/changes",
    post(JSON.stringify({ recipe: before.recipe, revision: before.revision, entry: null }).replace(/"white":[\d.]+/, '"white":NaN')),
    400,
    /not valid JSON/,
  );
  await refused(
    "/api/shots/1/changes",
    change({ ...before.recipe, passes: [{ ...before.recipe.passes[0], matte: { black: 0, white: null } }] }),
    422,
    /passes\.0\.matte\.white/,
  );
  await refused("/api/shots/1/changes", change({ ...before.recipe, magic: 1 }), 422, /magic/);
  await refused("/api/shots/1/changes", post({ recipe: before.recipe, revision: before.revision + 7, entry: null }), 409, /another window/);
  await refused("/api/shots/999", {}, 404, /no such shot/);
  await refused("/api/shots/1/deliveries", post(settings("png", 9999)), 422, /plate has/);
  await refused("/api/shots/1/deliveries", post({ ...settings("png", 2), format: "; rm -rf /" }), 422, /settings are not valid/);
  await refused("/api/media/from-path", post({ path: "/etc/passwd" }), 404, /permitted folder/);
  await refused("/api/media/from-path", post({ path: "demo/footage/../../package.json" }), 404, /permitted folder/);
  await refused("/api/media?name=a.png", { method: "POST", body: new Uint8Array(0) }, 422, /empty|no file/);
  await refused("/api/media?name=..%2F..%2Fevil.mp4", { method: "POST", body: "words" }, 422, /not a clip/);
  await refused("/api/deliveries/1/files/..%2F..%2Fmellow-sieve.db", {}, 404, /no such/);
  await refused(
    "/api/shots/1/view",
    { ...post({}), method: "PUT", headers: { "content-type": "application/json", origin: "http://example.com" } },
    403,
    /other sites/,
  );
  // More than is taken, in pieces whose length nothing states.
  const pieces = async function* () {
    for (let k = 0; k < 8; k++) yield new Uint8Array(1 << 20).fill(32);
    yield new Uint8Array(1).fill(32);
  };
  const endless = { ...post({}), body: pieces() as unknown as BodyInit, duplex: "half" } as RequestInit;
  await refused("/api/shots/1/changes", endless, 413, /too large/);
  // An upload that breaks off leaves nothing behind, and is no fault of the server's.
  const incoming = () => readdirSync(path.join(server.data, "incoming"));
  const broken = httpRequest({ host: "127.0.0.1", port: server.port, path: "/api/media?name=b.png", method: "POST" });
  broken.on("error", () => {});
  broken.setHeader("content-length", 5000);
  broken.write("some");
  await expect.poll(incoming).toHaveLength(1);
  broken.destroy();
  await expect.poll(incoming).toEqual([]);
  expect(server.said).toBe(saidBefore);
  // A name that was rebound to this machine.
  const status = await new Promise<number>((resolve, reject) => {
    httpRequest({ host: "127.0.0.1", port: server.port, path: "/api/jobs", headers: { host: "evil.example" } }, (r) =>
      resolve(r.statusCode ?? 0),
    )
      .on("error", reject)
      .end();
  });
  expect(status).toBe(403);
  expect(await server.json("/api/health")).toEqual({ ok: true });
  expect(await server.json<ShotAnswer>("/api/shots/1")).toEqual(before);
});
