import { ACESCCT } from "../../core/color/log";
import { PRIMARIES } from "../../core/color/primaries";
import { TRANSFERS } from "../../core/color/transfer";
import { MATRICES, RANGES } from "../../core/color/ycbcr";
import { SITINGS } from "../../core/image/raw-frame";
import type { Recipe } from "../../core/recipe/schema";
import { Select } from "../ui/select";
import { LogCurveNumbers } from "./log-curve";
import { settle, useBench } from "./store";

const READING_NAMES: Record<string, string> = {
  srgb: "sRGB",
  bt709: "BT.709",
  gamma22: "gamma 2.2",
  hlg: "HLG (BT.2100)",
  pq: "PQ (BT.2100)",
  acescct: "ACEScct",
  "film-density": "film density (log)",
  p3: "P3, D65",
  ap1: "ACES AP1",
  ap0: "ACES AP0",
  linear: "linear",
  bt601: "BT.601",
  bt2020: "BT.2020",
  limited: "limited",
  full: "full",
  left: "left",
  center: "centre",
  topleft: "top left",
};

const BY_NUMBERS = "log";
const AS_FILE = "as the file says";

type Read = "transfer" | "primaries" | "matrix" | "range" | "siting";

/** How the plate's codes are read: as its file says, or otherwise. */
export function ReadAs() {
  const plate = useBench((s) => s.recipe.plate);
  const { info } = useBench((s) => s.shot.plate);
  const { transfer } = plate;
  const fromFile = (key: Read) => {
    const source = key === "siting" && info.told?.siting ? "by its pixels" : info.stated[key] ? "file" : "assumed";
    return `${READING_NAMES[info.reading[key] ?? "bt709"]} (${source})`;
  };
  /** One undoable change of how the plate is read; undefined is as the file says. */
  const read = <K extends Read>(label: string, what: string, key: K, value: Recipe["plate"][K]) => {
    const { [key]: _, ...rest } = plate;
    settle("Plate", `${label}: ${what}`, (r) => ({ ...r, plate: value === undefined ? rest : { ...rest, [key]: value } }));
  };
  const override = <K extends Exclude<Read, "transfer">>(key: K, label: string, values: readonly NonNullable<Recipe["plate"][K]>[]) => {
    return (
      <Select
        label={label}
        value={(plate[key] ?? "file") as string}
        choices={[["file", fromFile(key)], ...values.map((v) => [v as string, READING_NAMES[v as string] ?? (v as string)] as const)]}
        onChange={(v) =>
          read(label, v === "file" ? AS_FILE : (READING_NAMES[v] as string), key, v === "file" ? undefined : (v as Recipe["plate"][K]))
        }
      />
    );
  };
  return (
    <>
      <Select
        label="Curve"
        value={transfer === undefined ? "file" : typeof transfer === "string" ? transfer : BY_NUMBERS}
        choices={[
          ["file", fromFile("transfer")],
          ...TRANSFERS.map((t) => [t as string, READING_NAMES[t] as string] as const),
          [BY_NUMBERS, "log, by its numbers"],
        ]}
        onChange={(v) => {
          const named = TRANSFERS.find((t) => t === v);
          read(
            "Curve",
            named ? (READING_NAMES[named] as string) : v === "file" ? AS_FILE : "log, by its numbers",
            "transfer",
            named ?? (v === "file" ? undefined : ACESCCT),
          );
        }}
      />
      {transfer !== undefined && typeof transfer !== "string" && (
        <LogCurveNumbers curve={transfer} onChange={(curve) => read("Curve", "numbers", "transfer", curve)} />
      )}
      {override("primaries", "Primaries", PRIMARIES)}
      {info.layout.kind === "ycbcr" && (
        <>
          {override("matrix", "Matrix", MATRICES)}
          {override("range", "Range", RANGES)}
          {override("siting", "Chroma siting", SITINGS)}
        </>
      )}
    </>
  );
}
