import { GROUNDS } from "../../workers/grounds";
import { writesNumber } from "../ui/number-input";
import { nextFinding, nextWorstFrame } from "./finding-actions";
import {
  flipBlink,
  goToFrame,
  goToStep,
  takeTool,
  toggleCompare,
  toggleFour,
  toggleFullScreen,
  toggleLoupe,
  toggleSolo,
  zoomStep,
  zoomTo,
} from "./looking";
import { nudgeOutline } from "./outline-actions";
import { togglePlaying } from "./playing";
import { keep } from "./record-actions";
import { proposeAll } from "./screen-actions";
import { removeShape } from "./shape-actions";
import { clearTool, complain, currentPass, look, redo, STEPS, undo, useBench } from "./store";

const state = useBench.getState;

export interface Action {
  readonly name: string;
  readonly group: string;
  /** As KeyboardEvent.key, with Ctrl+ and Shift+ before it. */
  readonly keys?: string;
  readonly run: () => void;
}

const NUDGES = [
  ["Left", -1, 0],
  ["Right", 1, 0],
  ["Up", 0, -1],
  ["Down", 0, 1],
] as const;

export function allActions(open: { deliver: () => void; log: () => void; probes: () => void; palette: () => void }): Action[] {
  const view = (name: string, keys: string, v: ReturnType<typeof state>["view"]["view"]): Action => ({
    name: `Show ${name}`,
    group: "View",
    keys,
    run: () => look({ view: v }),
  });
  return [
    { name: "All actions", group: "General", keys: "Ctrl+k", run: open.palette },
    { name: "Undo", group: "General", keys: "Ctrl+z", run: undo },
    { name: "Redo", group: "General", keys: "Ctrl+Shift+z", run: redo },
    { name: "Next finding", group: "View", keys: "n", run: nextFinding },
    { name: "Next worst frame", group: "Frames", keys: "b", run: nextWorstFrame },
    { name: "Keep a version", group: "General", keys: "k", run: () => void keep(`Frame ${state().view.frame}`).catch(complain) },
    { name: "Wipe against the last version", group: "Compare", keys: "w", run: () => toggleCompare("wipe") },
    { name: "Difference from the last version", group: "Compare", keys: "y", run: () => toggleCompare("difference") },
    { name: "Blink with the last version; flip", group: "Compare", keys: "j", run: flipBlink },
    { name: "Four views at once", group: "View", keys: "q", run: toggleFour },
    { name: "Loupe", group: "View", keys: "e", run: toggleLoupe },
    { name: "Full screen", group: "View", keys: "h", run: toggleFullScreen },
    { name: "Square pixels", group: "View", run: () => look({ square: !state().view.square }) },
    { name: "This pass alone", group: "View", keys: "a", run: () => toggleSolo(currentPass(state()).id) },
    { name: "Put probes on the picture", group: "Tools", keys: "i", run: () => useBench.setState({ tool: "probe" }) },
    { name: "Probes over the frames", group: "View", keys: "Shift+i", run: open.probes },
    { name: "Log and versions", group: "General", keys: "l", run: open.log },
    { name: "Deliver…", group: "General", keys: "Ctrl+Enter", run: open.deliver },
    ...STEPS.map((step, i): Action => ({ name: `Go to ${step}`, group: "Steps", keys: String((i + 1) % 10), run: () => goToStep(step) })),
    { name: "Propose the whole key", group: "Steps", run: () => void proposeAll() },
    {
      name: "Sample the screen",
      group: "Tools",
      keys: "s",
      run: () => takeTool("Screen", "sample"),
    },
    {
      name: "Draw a garbage matte",
      group: "Tools",
      keys: "d",
      run: () => takeTool("Bounds", "draw"),
    },
    { name: "Put the tool down", group: "Tools", keys: "Escape", run: clearTool },
    {
      name: "Remove the chosen shape",
      group: "Tools",
      keys: "Delete",
      run: () => {
        const { selectedShape, view } = state();
        if (selectedShape && view.step === "Bounds") removeShape(selectedShape);
      },
    },
    ...NUDGES.map(
      ([way, dx, dy]): Action => ({
        name: `Nudge the chosen outline ${way.toLowerCase()}`,
        group: "Tools",
        keys: `Alt+Arrow${way}`,
        run: () => nudgeOutline(dx, dy),
      }),
    ),
    view("composite", "c", "composite"),
    view("matte", "m", "matte"),
    view("matte stretched", "x", "stretched"),
    view("pull before levels", "u", "pull"),
    view("plate", "p", "plate"),
    view("spill removed", "r", "spillRemoved"),
    view("owners of the matte", "v", "owners"),
    view("edge colour", "t", "edgeColour"),
    {
      name: "Next ground",
      group: "View",
      keys: "g",
      run: () => look({ ground: GROUNDS[(GROUNDS.indexOf(state().view.ground) + 1) % GROUNDS.length] as (typeof GROUNDS)[number] }),
    },
    { name: "Fit the frame", group: "View", keys: "f", run: () => zoomTo(0) },
    { name: "One to one", group: "View", keys: "o", run: () => zoomTo(1 / (devicePixelRatio || 1)) },
    { name: "Zoom in", group: "View", keys: "+", run: () => zoomStep(1) },
    { name: "Zoom out", group: "View", keys: "-", run: () => zoomStep(-1) },
    { name: "Play in a loop; stop", group: "Frames", keys: " ", run: togglePlaying },
    { name: "Next frame", group: "Frames", keys: "ArrowRight", run: () => goToFrame(state().view.frame + 1) },
    { name: "Previous frame", group: "Frames", keys: "ArrowLeft", run: () => goToFrame(state().view.frame - 1) },
    { name: "First frame", group: "Frames", keys: "Home", run: () => goToFrame(1) },
    { name: "Last frame", group: "Frames", keys: "End", run: () => goToFrame(state().shot.plate.info.frames) },
  ];
}

/**
 * Whether what has the focus takes a key itself: text fields all, number fields what numbers are written with, sliders and lists the keys that move
 * them, not letters.
 */
function takesKey(target: HTMLElement, key: string): boolean {
  if (target.closest("textarea, [role=dialog], [role=menu]")) return true;
  if (target.closest("[role=slider]")) return key.length !== 1;
  const field = target.closest<HTMLInputElement | HTMLSelectElement>("input, select");
  if (!field) return false;
  if (field.localName === "select" || field.type === "checkbox" || field.type === "radio") return key.length !== 1 || key === " ";
  return field.inputMode !== "decimal" || writesNumber(key);
}

/** Whether what was typed is taken back by the field itself. */
const undoesText = (target: HTMLElement): boolean =>
  target.closest("textarea, input:not([inputmode=decimal], [type=checkbox], [type=radio])") !== null;

/** Runs the action of a key press, unless what has the focus takes it. */
export function handleKey(e: KeyboardEvent, actions: readonly Action[]): void {
  const target = e.target as HTMLElement | null;
  // Space presses a button that has the focus.
  if (e.key === " " && target?.closest("button, a, summary")) return;
  const ctrl = e.ctrlKey || e.metaKey;
  const anywhere = ctrl && (/^k$/i.test(e.key) || (/^z$/i.test(e.key) && !(target && undoesText(target))));
  if (target && !anywhere && takesKey(target, ctrl || e.altKey ? "" : e.key)) return;
  const key = e.key.length === 1 ? e.key.toLowerCase() : e.key;
  const pressed = `${e.altKey ? "Alt+" : ""}${ctrl ? "Ctrl+" : ""}${e.shiftKey && /^[a-z]$/.test(key) ? "Shift+" : ""}${key}`;
  const action = actions.find((a) => a.keys === pressed);
  if (!action) return;
  e.preventDefault();
  action.run();
}
