/** The server's error, told to the user as it is. */
export class ServerError extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

async function failure(response: Response): Promise<ServerError> {
  const body = (await response.json().catch(() => null)) as { error?: { what: string; remedy: string } } | null;
  return new ServerError(
    response.status,
    body?.error ? `${body.error.what} ${body.error.remedy}`.trim() : "The server gave no answer that can be read. Try again.",
  );
}

/** Calls an endpoint. @throws ServerError with what is wrong and what to do; status 0 when the server does not answer */
export async function call<T>(path: string, method: "GET" | "POST" | "PUT" | "PATCH" | "DELETE" = "GET", body?: unknown): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      ...(body === undefined ? {} : { body: JSON.stringify(body), headers: { "content-type": "application/json" } }),
    });
  } catch {
    throw new ServerError(0, "The server does not answer. Check that it is running; what you did is kept in this window.");
  }
  if (!response.ok) throw await failure(response);
  return (await response.json()) as T;
}

/** Uploads one file with its progress, 0…1. */
export function upload<T>(file: File, onProgress: (share: number) => void): Promise<T> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open("POST", `/api/media?name=${encodeURIComponent(file.name)}`);
    request.upload.onprogress = (e) => e.lengthComputable && onProgress(e.loaded / e.total);
    request.onload = () => {
      try {
        const body = JSON.parse(request.responseText);
        if (request.status < 400) resolve(body as T);
        else reject(new ServerError(request.status, `${body.error.what} ${body.error.remedy}`.trim()));
      } catch {
        reject(new ServerError(request.status, "The server gave no answer that can be read. Try again."));
      }
    };
    request.onerror = () => reject(new ServerError(0, "The upload broke off. Check that the server is running and try again."));
    request.send(file);
  });
}
