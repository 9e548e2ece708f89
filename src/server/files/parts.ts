/**
 * What a request sends, part by part as it comes. No part is asked for before it is wanted: where a body is given up in the
 * middle while one is awaited, and that turns out to be its end, Node 20's fetch closes it twice, which ends the whole process.
 */
export async function* partsOf(body: ReadableStream<Uint8Array>): AsyncGenerator<Uint8Array> {
  const reader = body.getReader();
  let over = false;
  try {
    for (;;) {
      const { done, value } = await reader.read();
      over = done;
      if (done) return;
      yield value;
    }
  } finally {
    if (!over) await reader.cancel();
  }
}
