/** An error for people: what is wrong and what to do about it. Carries the HTTP status the interface answers with. */
export class Complaint extends Error {
  constructor(
    readonly status: number,
    readonly what: string,
    readonly remedy: string,
  ) {
    super(`${what} ${remedy}`);
    this.name = "Complaint";
  }

  /** The same, said of a file by its name. */
  of(name: string): Complaint {
    return new Complaint(this.status, `${name}: ${this.what}`, this.remedy);
  }
}

const IN_SERVER = new Complaint(
  500,
  "Something went wrong in the server; your work up to the last change is kept.",
  "The server's log has the details. Try again.",
);

/** Any thrown thing as a Complaint: system errors that people can mend are told apart, the rest are `unforeseen`. */
export const asComplaint = (error: unknown, unforeseen = IN_SERVER): Complaint => foreseen(error) ?? unforeseen;

/** What a thrown thing has to say to people, if that was foreseen. */
function foreseen(error: unknown): Complaint | undefined {
  if (error instanceof Complaint) return error;
  const { code, path, syscall, dest } = (error ?? {}) as NodeJS.ErrnoException & { dest?: string };
  if (code === "ENOSPC" || code === "EDQUOT" || code === "SQLITE_FULL")
    return new Complaint(507, "The disk is full; nothing was lost.", "Free some space on it and try again.");
  if (code === "EACCES" || code === "EPERM" || code === "EROFS")
    return new Complaint(
      500,
      `${path ?? "The data folder"} may not be read or written.`,
      "Check the rights on it and on its folder; the data folder is MELLOW_SIEVE_DATA.",
    );
  if (code === "EISDIR" && (dest || path)) return new Complaint(422, `${dest ?? path} is a folder.`, "Name a file.");
  if (syscall === "mkdir" && (code === "EEXIST" || code === "ENOTDIR"))
    return new Complaint(422, `${path} cannot be made: a file is in the way.`, "Name another folder, or move the file aside.");
  if (code === "ECONNRESET" || code === "ERR_STREAM_PREMATURE_CLOSE")
    return new Complaint(400, "The page closed before all was sent; nothing was kept of it.", "Send it again.");
  if (error instanceof RangeError) return new Complaint(422, error.message, "");
  return undefined;
}

/** Runs work in a thread. Errors lose their kind on their way out of it: what a Complaint says goes along as plain data. */
export async function fromThread<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    const told = foreseen(error);
    if (!told) throw error;
    const { status, what, remedy } = told;
    throw new Error(told.message, { cause: { status, what, remedy } });
  }
}

/** What {@link fromThread} let out, as it was thrown there. */
export function outOfThread(error: unknown): unknown {
  const { status, what, remedy } = ((error as Error | undefined)?.cause ?? {}) as Partial<Complaint>;
  return status && what !== undefined && remedy !== undefined ? new Complaint(status, what, remedy) : error;
}
