import { useId, useState } from "react";
import { type LogCurve, linearToLog, logCurveSchema, stepAtCut } from "../../core/color/log";
import { NumberInput } from "../ui/number-input";

/** The numbers in the order of the formula, with what each is called. */
const NUMBERS: readonly (readonly [keyof LogCurve, string])[] = [
  ["slope", "slope"],
  ["gain", "gain"],
  ["offset", "offset"],
  ["base", "base"],
  ["cut", "cut"],
  ["linearSlope", "linear slope"],
  ["linearBase", "linear base"],
];
/** Light that makers publish codes for: nothing, a grey card, a white one. */
const CARDS: readonly (readonly [string, number])[] = [
  ["black", 0],
  ["18 % grey", 0.18],
  ["90 % white", 0.9],
];
/** Step where the two parts meet, from which on a number was mistyped, in codes of 0…1. */
const STEP = 0.002;

/** A logarithmic curve's numbers, as its maker publishes them; and the codes that they give, to hold against what the maker states. */
export function LogCurveNumbers({ curve, onChange }: { curve: LogCurve; onChange: (curve: LogCurve) => void }) {
  const [refused, setRefused] = useState<string | null>(null);
  const commit = (key: keyof LogCurve, text: string): void => {
    const value = Number(text.trim().replace(",", "."));
    if (text.trim() === "" || value === curve[key]) return;
    const parsed = logCurveSchema.safeParse({ ...curve, [key]: value });
    setRefused(parsed.success ? null : `${text}: ${parsed.error.issues[0]?.message ?? "this is no number that can stand here"}`);
    if (parsed.success) onChange(parsed.data);
  };
  return (
    <div className="mt-1 rounded-md border border-line p-2" data-testid="log-curve">
      <p className="text-soft">
        code = slope · log₁₀(gain · light + offset) + base, for light over the cut; under it linear slope · light + linear base
      </p>
      <div className="mt-1.5 grid grid-cols-2 gap-x-2 gap-y-1">
        {NUMBERS.map(([key, label]) => (
          <LogNumber key={key} label={label} value={curve[key]} onCommit={(text) => commit(key, text)} />
        ))}
      </div>
      {refused && (
        <p role="alert" className="mt-1.5 text-amber">
          {refused}
        </p>
      )}
      <p className="figure mt-1.5 text-soft">
        {CARDS.map(([name, light]) => `${name} ${(100 * linearToLog(curve, light)).toFixed(1)} %`).join(" · ")}
      </p>
      {stepAtCut(curve) > STEP && (
        <p className="mt-1.5">
          The two parts do not meet at the cut: {`${(100 * stepAtCut(curve)).toFixed(1)}\u00a0% apart. Check the numbers.`}
        </p>
      )}
    </div>
  );
}

function LogNumber({ label, value, onCommit }: { label: string; value: number; onCommit: (text: string) => void }) {
  const id = useId();
  const own = String(Number(value.toPrecision(9)));
  return (
    <div>
      <label htmlFor={id} className="block text-faint">
        {label}
      </label>
      <NumberInput
        id={id}
        shown={own}
        className="figure w-full rounded bg-page px-1.5 py-0.5 outline-none focus:ring-1 focus:ring-amber"
        onCommit={(text) => text !== own && onCommit(text)}
      />
    </div>
  );
}
