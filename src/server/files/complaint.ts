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
}

const IN_SERVER = new Complaint(
  500,
  "Something went wrong in the server; your work up to the last change is kept.",
  "The server's log has the details. Try again.",
);

/** Any thrown thing as a Complaint: system errors that people can mend are told apart, the rest are `unforeseen`. */
export function asComplaint(error: unknown, unforeseen = IN_SERVER): Complaint {
  if (error instanceof Complaint) return error;
  const code = (error as NodeJS.ErrnoException | undefined)?.code;
  if (code === "ENOSPC" || code === "EDQUOT" || code === "SQLITE_FULL")
    return new Complaint(507, "The disk is full; nothing was lost.", "Free some space on the disk of the data folder and try again.");
  if (code === "EACCES" || code === "EPERM" || code === "EROFS")
    return new Complaint(500, "The data folder cannot be written.", "Check the rights on the data folder (MELLOW_SIEVE_DATA).");
  if (code === "ECONNRESET" || code === "ERR_STREAM_PREMATURE_CLOSE")
    return new Complaint(400, "The page closed before all was sent; nothing was kept of it.", "Send it again.");
  if (error instanceof RangeError) return new Complaint(422, error.message, "");
  return unforeseen;
}
