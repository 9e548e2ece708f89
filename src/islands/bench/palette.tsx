import { Command } from "cmdk";
import { Dialog } from "radix-ui";
import type { Action } from "./actions";

const keyName = (keys: string): string =>
  keys
    .split("+")
    .map((k) => ({ ArrowRight: "→", ArrowLeft: "←", Escape: "Esc", "": "+", " ": "Space" })[k] ?? (k.length === 1 ? k.toUpperCase() : k))
    .join(" ");

/** Every action with its key. */
export default function Palette({
  open,
  onOpenChange,
  actions,
}: {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  actions: readonly Action[];
}) {
  const groups = [...new Set(actions.map((a) => a.group))];
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 bg-black/50" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-24 left-1/2 w-[520px] -translate-x-1/2 overflow-hidden rounded-xl border border-line bg-panel shadow-2xl"
        >
          <Dialog.Title className="sr-only">All actions</Dialog.Title>
          <Command label="All actions" loop>
            <Command.Input
              autoFocus
              placeholder="What do you want to do?"
              className="w-full border-b border-line bg-transparent px-4 py-3 text-[15px] outline-none placeholder:text-faint"
            />
            <Command.List className="max-h-[420px] overflow-y-auto p-2">
              <Command.Empty className="p-4 text-soft">Nothing by that name.</Command.Empty>
              {groups.map((group) => (
                <Command.Group
                  key={group}
                  heading={group}
                  className="[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:pb-1 [&_[cmdk-group-heading]]:text-[11px] [&_[cmdk-group-heading]]:text-faint"
                >
                  {actions
                    .filter((a) => a.group === group)
                    .map((a) => (
                      <Command.Item
                        key={a.name}
                        value={a.name}
                        onSelect={() => {
                          onOpenChange(false);
                          // The dialog gives the focus back first.
                          setTimeout(a.run, 0);
                        }}
                        className="flex cursor-pointer justify-between rounded-md px-2 py-1.5 data-[selected=true]:bg-lifted"
                      >
                        {a.name}
                        {a.keys && <kbd className="figure text-soft">{keyName(a.keys)}</kbd>}
                      </Command.Item>
                    ))}
                </Command.Group>
              ))}
            </Command.List>
          </Command>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
