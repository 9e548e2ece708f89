import { WASM } from "./wasm";

/** Pointwise steps on one block of slots; steps over whole planes; steps on rows. */
export type BlockKernel =
  | "weigh"
  | "product"
  | "meanWhere"
  | "variance"
  | "steepness"
  | "within"
  | "missing"
  | "thin"
  | "shaded"
  | "firm"
  | "difference"
  | "levels"
  | "ramp"
  | "bounded"
  | "over"
  | "limitSpill"
  | "screenOut"
  | "chroma"
  | "chromaDistance";
export type PlaneKernel = "boxMean" | "shrink" | "enlarge" | "distance" | "weightedBlur" | "unblurred" | "readBetween" | "medianOf9";
/** Steps that change a plane in place. */
export type ChangingKernel = "fillIn" | "meanOfKnown";
export type RowKernel = "chromaRow" | "alongLuma" | "ownSide" | "oneColour" | "edgesOf" | "decodeRow" | "lumaOfLight" | "rimRow";
/** Mixtures of a pixel with many colours; `mixturesAlong` tells how many it met. */
export type MixtureKernel = "layColours" | "mostBehind";
/** Chroma brought back to what was recorded, over whole planes; `sidesOfEdges` tells how many it found. */
export type RecordedKernel = "limitsAround" | "limitsOnlyAt" | "backToRecorded" | "towardsSides";

/** What kernels/ export. */
type Kernels = { readonly memory: WebAssembly.Memory } & Readonly<
  Record<BlockKernel | PlaneKernel | ChangingKernel | RowKernel | MixtureKernel | RecordedKernel, (...numbers: number[]) => void>
> &
  Readonly<Record<"sidesOfEdges" | "lumaAndChroma" | "mixturesAlong" | "leftBy", (...numbers: number[]) => number>>;

const PAGE = 65536;
/** Where planes and rows begin in the memory: past the slots of pointwise steps. */
const PLANES = 524288;
let loaded: Kernels | undefined;

/** The compiled kernels; made when first asked for. */
export function kernels(): Kernels {
  if (loaded) return loaded;
  const bytes = Uint8Array.from(atob(WASM), (c) => c.charCodeAt(0));
  loaded = new WebAssembly.Instance(new WebAssembly.Module(bytes)).exports as unknown as Kernels;
  return loaded;
}

/** The kernels' memory, of at least so many bytes. Views on it last until it grows again. @throws RangeError when there is no more */
export function memoryOf(bytes: number): ArrayBuffer {
  const { memory } = kernels();
  const missing = bytes - memory.buffer.byteLength;
  if (missing > 0)
    try {
      memory.grow(Math.ceil(missing / PAGE));
    } catch (cause) {
      throw new RangeError("There is not enough memory for a frame of this size; close other programs, or work on a smaller one.", {
        cause,
      });
    }
  return memory.buffer;
}

/** Floats past the end of a plane or row that kernels may read and write. */
const PAST = 8;

/** Places for planes and rows in the kernels' memory, one after the other, each with room past its end. */
export function places(): { take: (floats: number) => number; end: () => number } {
  let end = PLANES;
  const take = (floats: number) => {
    const at = end;
    end += Math.ceil((floats + PAST) / 4) * 16;
    return at;
  };
  return { take, end: () => end };
}
