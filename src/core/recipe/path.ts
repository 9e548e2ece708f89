/** Dotted paths to the numbers of a document: "matte.white", "pull.unmix.reach". Lists are not entered. */
export type NumberPath<T> = T extends unknown
  ? {
      [K in keyof T & string]: T[K] extends number
        ? K
        : T[K] extends readonly unknown[] | null
          ? never
          : T[K] extends object
            ? `${K}.${NumberPath<T[K]>}`
            : never;
    }[keyof T & string]
  : never;

type Tree = Record<string, unknown>;

export const numberAt = (document: object, path: string): number =>
  path.split(".").reduce((part: unknown, key) => (part as Tree)[key], document) as number;

/** A copy of the document with one part replaced; everything beside it is shared. */
export function withPart<T extends object>(document: T, path: string, value: unknown): T {
  const [key, ...rest] = path.split(".") as [string, ...string[]];
  const part = (document as Tree)[key];
  return { ...document, [key]: rest.length ? withPart(part as object, rest.join("."), value) : value };
}
