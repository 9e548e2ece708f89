export * from "./chroma";
export * from "./known";
export * from "./planes";
export * from "./pointwise";
export * from "./recorded";
export * from "./rims";
export * from "./rows";
