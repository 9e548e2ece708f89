import os from "node:os";
import path from "node:path";
import type { MessagePort } from "node:worker_threads";
import { Piscina } from "piscina";
import { outOfThread } from "../files/complaint";
import { projectFolder } from "../files/folders";

const shared = globalThis as { mellowSieveThreads?: Piscina };

/** Memory there should be for each thread, bytes: a 4K frame takes over half of it, and there is a browser too. */
const PER_THREAD = 2 ** 31;
/** What this process may have, bytes. */
const memory = () => Math.min(os.totalmem(), process.constrainedMemory() || Number.POSITIVE_INFINITY);

/** Threads for long work. */
function threads(): Piscina {
  shared.mellowSieveThreads ??= new Piscina({
    filename: path.join(projectFolder, "dist/threads/render-thread.js"),
    maxThreads: Math.max(1, Math.min(8, os.availableParallelism(), Math.floor(memory() / PER_THREAD))),
    idleTimeout: 30_000,
  });
  return shared.mellowSieveThreads;
}

/** How much is worked on at once. */
export const threadCount = (): number => threads().options.maxThreads;

/**
 * Has long work done in a thread.
 * @param name which function of render-thread.ts does it; its default without one
 * @throws Complaint as it was thrown there
 */
export async function inThread<T>(
  task: object,
  options: { name?: string; signal?: AbortSignal; transferList?: MessagePort[] },
): Promise<T> {
  try {
    return await threads().run(task, options);
  } catch (error) {
    throw outOfThread(error);
  }
}
