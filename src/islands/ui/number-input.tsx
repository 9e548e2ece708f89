import { type KeyboardEvent, useEffect, useRef, useState } from "react";

/** Whether a key belongs to a field that holds a number. Other letters are the page's shortcuts, whichever number has the focus. */
export const writesNumber = (key: string): boolean => key.length !== 1 || /[\d.,+-]/.test(key);

export interface NumberInputProps {
  readonly id: string;
  /** The number as it is, written out. */
  readonly shown: string;
  readonly disabled?: boolean;
  readonly className: string;
  /** What was typed, with Enter, on leaving, or before a shortcut. */
  readonly onCommit: (text: string) => void;
  /** Arrow keys: so many steps. */
  readonly onNudge?: (steps: number) => void;
}

/** A field for one number: all of it is selected on coming to it and after whatever sets it; Escape leaves it as it was. */
export function NumberInput({ id, shown, disabled = false, className, onCommit, onNudge }: NumberInputProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const typedNow = useRef<string | null>(null);
  const write = (text: string | null) => {
    typedNow.current = text;
    setTyped(text);
  };
  const commit = () => {
    const text = typedNow.current;
    write(null);
    if (text !== null) onCommit(text);
  };
  const onKey = (e: KeyboardEvent<HTMLInputElement>) => {
    const field = e.currentTarget;
    // After the number has been written anew, or nothing stays selected.
    const selectAgain = () => setTimeout(() => field.select(), 0);
    if (e.key === "Enter") {
      commit();
      selectAgain();
    } else if (e.key === "Escape") write(null);
    else if (onNudge && (e.key === "ArrowUp" || e.key === "ArrowDown")) {
      e.preventDefault();
      write(null);
      onNudge((e.key === "ArrowUp" ? 1 : -1) * (e.shiftKey ? 10 : 1));
      selectAgain();
    } else if (!writesNumber(e.key) && !e.ctrlKey && !e.metaKey && !e.altKey) {
      e.preventDefault();
      commit();
      selectAgain();
    }
  };
  useEffect(() => {
    if (!disabled) return;
    typedNow.current = null;
    setTyped(null);
  }, [disabled]);
  return (
    <input
      id={id}
      inputMode="decimal"
      disabled={disabled}
      className={className}
      value={typed ?? shown}
      onChange={(e) => write(e.target.value)}
      onFocus={(e) => e.target.select()}
      onBlur={commit}
      onKeyDown={onKey}
    />
  );
}
