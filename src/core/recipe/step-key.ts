/** FNV-1a over the text, as a short key. Keys are compared within one session only. */
function hash(text: string): string {
  let h = 0x811c9dc5;
  let g = 0x1b873593;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    h = Math.imul(h ^ c, 0x01000193);
    g = Math.imul(g ^ c, 0x85ebca6b) ^ (g >>> 13);
  }
  return (h >>> 0).toString(36) + (g >>> 0).toString(36);
}

/** A short key of anything that JSON can hold. */
export const keyOf = (...parts: unknown[]): string => hash(JSON.stringify(parts));
