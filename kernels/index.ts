export * from "./chroma";
export * from "./planes";
export * from "./pointwise";
export * from "./rows";
