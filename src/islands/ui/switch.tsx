import { Switch as Radix } from "radix-ui";
import { useId } from "react";

/** On or off, told by place and brightness. */
export function Switch({
  label,
  hint,
  checked,
  onChange,
}: {
  label: string;
  hint?: string | undefined;
  checked: boolean;
  onChange: (checked: boolean) => void;
}) {
  const id = useId();
  return (
    <div className="flex items-center justify-between gap-2 py-1.5">
      <label htmlFor={id} title={hint}>
        {label}
      </label>
      <Radix.Root
        id={id}
        checked={checked}
        onCheckedChange={onChange}
        className="relative h-5 w-9 shrink-0 rounded-full border border-line bg-page data-[state=checked]:bg-lifted"
      >
        <Radix.Thumb className="block size-3.5 translate-x-0.5 rounded-full bg-faint data-[state=checked]:translate-x-[18px] data-[state=checked]:bg-white" />
      </Radix.Root>
    </div>
  );
}
