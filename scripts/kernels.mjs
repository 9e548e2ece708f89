/** Compiles kernels/ to WebAssembly and writes it, as text, to src/core/kernels/wasm.ts, which is committed. */
import { readFileSync, writeFileSync } from "node:fs";
import path from "node:path";
import asc from "assemblyscript/asc";

const root = path.resolve(import.meta.dirname, "..");
export const target = path.join(root, "src/core/kernels/wasm.ts");

/** The module that {@link target} must hold. */
export async function compileKernels() {
  let wasm;
  const { error, stderr } = await asc.main(
    [
      "index.ts",
      "--outFile",
      "kernels.wasm",
      "-O3",
      "--converge",
      "--noAssert",
      "--runtime",
      "stub",
      "--enable",
      "simd",
      "--initialMemory",
      "8",
      "--maximumMemory",
      "32768",
    ],
    {
      readFile: (name, base) => {
        try {
          return readFileSync(path.resolve(root, "kernels", base === "." ? "" : base, name), "utf8");
        } catch {
          return null;
        }
      },
      writeFile: (name, contents) => {
        if (name.endsWith(".wasm")) wasm = contents;
      },
      listFiles: () => [],
    },
  );
  if (error) throw new Error(`${error.message}\n${stderr}`);
  return `/** Made from kernels/ by scripts/kernels.mjs: WebAssembly in base64. Not edited by hand. */\nexport const WASM =\n  "${Buffer.from(wasm).toString("base64")}";\n`;
}

if (process.argv[1] === import.meta.filename) writeFileSync(target, await compileKernels());
