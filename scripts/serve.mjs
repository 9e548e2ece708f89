/** Starts the built server, waits until it answers, prints its address. */
import { spawn } from "node:child_process";
import net from "node:net";
import path from "node:path";
import { root, say, stop } from "./setup.mjs";

/** Whether nothing listens on a port yet. Where that cannot be told, the server itself says why. */
const isFree = () =>
  new Promise((resolve) => {
    const trial = net.createServer();
    trial.once("error", ({ code }) => resolve(code !== "EADDRINUSE"));
    trial.listen(Number(port), host, () => trial.close(() => resolve(true)));
  });

const host = process.env.HOST ?? "127.0.0.1";
const port = process.env.PORT ?? "4417";
const address = `http://${host.includes(":") ? `[${host}]` : host}:${port}`;

/** Ends with a plain word where the server could not listen. */
export async function ensurePort() {
  if (!/^\d+$/.test(port) || Number(port) < 1 || Number(port) > 65535)
    stop(`PORT is ${port}, which is no port.`, "Give a number from 1 to 65535, or leave PORT out.");
  if (!(await isFree()))
    stop(
      `Something listens on ${address} already.`,
      "If it is Mellow Sieve, open that address; if not, choose another port: PORT=4500 npm run demo",
    );
}

export async function serve() {
  await ensurePort();
  const child = spawn(process.execPath, [path.join(root, "dist/server/entry.mjs")], {
    cwd: root,
    stdio: "inherit",
    // Planes of 4K frames go back to the system when they are let go: among smaller ones they leave gaps that nothing fills.
    env: { MALLOC_MMAP_THRESHOLD_: "16777216", ...process.env, HOST: host, PORT: port },
  });
  let ended = false;
  child.on("exit", (code) => {
    ended = true;
    process.exit(code ?? 1);
  });
  for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => child.kill(signal));
  // The first answer also takes up deliveries that a stopped server left unfinished.
  for (let tries = 0; tries < 200 && !ended; tries++) {
    try {
      const ask = host === "0.0.0.0" ? `http://127.0.0.1:${port}` : address;
      if (!(await fetch(`${ask}/api/health`)).ok) break;
      say(`Mellow Sieve is at ${address}`);
      return child;
    } catch {
      await new Promise((r) => setTimeout(r, 100));
    }
  }
  child.kill();
  stop(`The server did not start on ${address}.`, "The lines above say why.");
}

if (process.argv[1] === import.meta.filename) await serve();
