import { type ChildProcess, execFileSync, spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import os from "node:os";
import path from "node:path";

export const root = path.resolve(import.meta.dirname, "../..");

/** A built server on its own port and its own data folder. */
export class BenchServer {
  readonly data = mkdtempSync(path.join(os.tmpdir(), "sieve-e2e-"));
  /** What it has written to its log of errors. */
  said = "";
  private child: ChildProcess | undefined;

  constructor(readonly port: number) {}

  get address(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  private get env() {
    return {
      ...process.env,
      MELLOW_SIEVE_DATA: this.data,
      MELLOW_SIEVE_FOLDERS: path.join(root, "demo/footage"),
      PORT: String(this.port),
      HOST: "127.0.0.1",
    };
  }

  seed(): void {
    execFileSync(process.execPath, [path.join(root, "node_modules/tsx/dist/cli.mjs"), path.join(root, "demo/seed.ts")], {
      cwd: root,
      env: this.env,
      stdio: "inherit",
    });
  }

  /** Gives a shot a recipe, where it has another. @param shot its address */
  async take(shot: string, recipe: unknown): Promise<void> {
    const now = await this.json<{ recipe: unknown; revision: number }>(shot);
    if (JSON.stringify(now.recipe) === JSON.stringify(recipe)) return;
    const entry = { frame: 1, step: "Plate", what: "As the demo comes", before: null };
    const body = JSON.stringify({ recipe, revision: now.revision, entry });
    const answer = await this.fetch(`${shot}/changes`, { method: "POST", body, headers: { "content-type": "application/json" } });
    if (!answer.ok) throw new Error(`The recipe was not taken: ${await answer.text()}`);
  }

  async start(): Promise<void> {
    this.child = spawn(process.execPath, [path.join(root, "dist/server/entry.mjs")], {
      cwd: root,
      env: this.env,
      stdio: ["ignore", "ignore", "pipe"],
    });
    this.child.stderr?.on("data", (text: Buffer) => {
      this.said += text;
      process.stderr.write(text);
    });
    for (let tries = 0; tries < 300; tries++) {
      try {
        if ((await this.fetch("/api/health")).ok) return;
      } catch {
        await new Promise((r) => setTimeout(r, 100));
      }
    }
    throw new Error("The server did not start.");
  }

  /** Ends the process at once, as a power cut would. */
  async kill(): Promise<void> {
    const child = this.child;
    if (!child) return;
    this.child = undefined;
    const gone = new Promise((r) => child.once("exit", r));
    child.kill("SIGKILL");
    await gone;
  }

  async remove(): Promise<void> {
    await this.kill();
    rmSync(this.data, { recursive: true, force: true });
  }

  /** One connection a request: one kept alive is lost when the server is killed, or when this process is blocked past its end. */
  fetch(url: string, init: RequestInit = {}): Promise<Response> {
    return fetch(this.address + url, { ...init, headers: { ...init.headers, connection: "close" } });
  }

  async json<T>(url: string, init?: RequestInit): Promise<T> {
    return (await (await this.fetch(url, init)).json()) as T;
  }
}
