export const target: string;
export function compileKernels(): Promise<string>;
