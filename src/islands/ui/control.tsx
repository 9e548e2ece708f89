import { Columns3 } from "lucide-react";
import { Slider } from "radix-ui";
import { useId, useRef } from "react";
import { NumberInput } from "./number-input";

export interface ControlProps {
  readonly label: string;
  /** In the unit shown. */
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly step: number;
  readonly unit: string;
  readonly decimals?: number;
  /** What a double click on the name returns to. */
  readonly initial: number;
  readonly hint?: string;
  readonly disabled?: boolean;
  /** While the hand moves. */
  readonly onMove: (value: number) => void;
  /** Opens a bracket of variants. */
  readonly onBracket?: () => void;
  /** A hand comes near the bracket's button. */
  readonly onBracketNear?: () => void;
  /** When the hand rests: one undoable change. */
  readonly onSettle: (value: number) => void;
}

/**
 * One number in a real unit: dragged on its slider or by its name (Shift fine, Ctrl coarse), typed, nudged by arrow keys (Shift tenfold),
 * reset by a double click on its name.
 */
export function Control(props: ControlProps) {
  const {
    label,
    value,
    min,
    max,
    step,
    unit,
    decimals = 1,
    initial,
    hint,
    disabled = false,
    onBracket,
    onBracketNear,
    onMove,
    onSettle,
  } = props;
  const id = useId();
  const scrub = useRef<{ x: number; value: number; last: number; from: number } | null>(null);
  const clip = (v: number) => Math.min(max, Math.max(min, Number(v.toFixed(6))));
  const commit = (text: string) => {
    const v = Number(text.replace(",", "."));
    if (text.trim() !== "" && Number.isFinite(v) && clip(v) !== value) onSettle(clip(v));
  };
  return (
    <div className={`py-1.5 ${disabled ? "opacity-45" : ""}`}>
      <div className="flex items-center justify-between gap-2">
        <label
          htmlFor={id}
          className="cursor-ew-resize touch-none select-none"
          onPointerDown={(e) => {
            if (disabled || e.button !== 0) return;
            scrub.current = { x: e.clientX, value, last: value, from: value };
            e.currentTarget.setPointerCapture(e.pointerId);
          }}
          onPointerMove={(e) => {
            const held = scrub.current;
            if (!held) return;
            // From where it was last read, so that changing between fine and coarse under way leaves no jump.
            const pace = step * (e.shiftKey ? 0.1 : e.ctrlKey || e.metaKey ? 10 : 1);
            held.value = clip(held.value + (e.clientX - held.x) * pace);
            held.x = e.clientX;
            const next = clip(Math.round(held.value / (0.1 * step)) * 0.1 * step);
            if (next === held.last) return;
            held.last = next;
            onMove(next);
          }}
          onPointerUp={() => {
            const held = scrub.current;
            scrub.current = null;
            if (held && held.last !== held.from) onSettle(held.last);
          }}
          onDoubleClick={() => !disabled && value !== initial && onSettle(initial)}
          title={`${hint ? `${hint}\n` : ""}Drag the name: Shift fine, Ctrl coarse. Double-click resets to ${initial.toFixed(decimals)} ${unit}`}
        >
          {label}
        </label>
        {onBracket && (
          <button
            type="button"
            aria-label={`Bracket ${label}`}
            title="Bracket: variants side by side"
            disabled={disabled}
            onClick={onBracket}
            onPointerEnter={onBracketNear}
            onFocus={onBracketNear}
            className="-mr-1 ml-auto rounded p-1 text-faint hover:bg-raised hover:text-amber focus-visible:text-amber"
          >
            <Columns3 size={14} />
          </button>
        )}
        <span className="figure flex items-center rounded bg-page px-1.5 focus-within:ring-1 focus-within:ring-amber">
          <NumberInput
            id={id}
            disabled={disabled}
            className="w-14 bg-transparent py-0.5 text-right outline-none"
            shown={value.toFixed(decimals)}
            onCommit={commit}
            onNudge={(steps) => onSettle(clip(value + steps * step))}
          />
          <span className="w-6 pl-1 text-faint">{unit}</span>
        </span>
      </div>
      <Slider.Root
        className="relative mt-1 flex h-4 touch-none items-center"
        value={[value]}
        min={min}
        max={max}
        step={step}
        disabled={disabled}
        onValueChange={([v]) => onMove(v as number)}
        onValueCommit={([v]) => onSettle(v as number)}
      >
        <Slider.Track className="h-[3px] grow rounded bg-lifted">
          <Slider.Range className="absolute h-[3px] rounded bg-faint" />
        </Slider.Track>
        <Slider.Thumb
          aria-label={label}
          aria-valuetext={`${value.toFixed(decimals)} ${unit}`}
          className="block size-3.5 rounded-full border border-black bg-text hover:bg-white"
        />
      </Slider.Root>
    </div>
  );
}
