import { type PointerEvent, useEffect, useRef } from "react";
import type { Size } from "../../core/image/plane";
import { flipBlink } from "./looking";
import { type Compare, useBench } from "./store";
import type { Mapping } from "./viewer";

/** Time that each picture shows while blinking, ms. Well under three flashes a second, the usual caution for photosensitive viewers. */
const BLINK_MS = 900;

const useVersionName = (compare: Compare): string => {
  const version = useBench((s) => s.versions.find((v) => v.id === compare.versionId));
  return version ? `version ${version.number} · ${version.name}` : "version";
};

/** What the picture is compared with, where no line tells. */
export function CompareNote({ compare }: { compare: Compare }) {
  const name = useVersionName(compare);
  const { how } = compare;
  useEffect(() => {
    if (how !== "blink" || matchMedia("(prefers-reduced-motion: reduce)").matches) return;
    const timer = setInterval(flipBlink, BLINK_MS);
    return () => clearInterval(timer);
  }, [how]);
  if (how === "wipe") return null;
  return (
    <p data-testid="compared" className="rounded-md bg-panel/95 px-3 py-1 whitespace-nowrap">
      {how === "difference" ? (
        <>
          Difference from {name}
          <span className="text-faint"> · four times as strong</span>
        </>
      ) : (
        <>
          {compare.shows ? name : "now"}
          <span className="text-faint"> · J flips</span>
        </>
      )}
    </p>
  );
}

/** The wipe's line: dragged, or moved by arrow keys. */
export function WipeHandle({ map, frame, compare }: { map: Mapping; frame: Size; compare: Compare }) {
  const name = useVersionName(compare);
  const { at } = compare;
  const dragging = useRef(false);
  const put = (share: number) => {
    const { compare } = useBench.getState();
    if (compare) useBench.setState({ compare: { ...compare, at: Math.min(1, Math.max(0, share)) } });
  };
  const moveTo = (e: PointerEvent) => {
    const box = (e.currentTarget.parentElement as HTMLElement).getBoundingClientRect();
    put((e.clientX - box.left - map.left) / (frame.width * map.zoomX));
  };
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label={`Wipe against ${name}`}
      aria-valuenow={Math.round(at * 100)}
      className="absolute inset-y-0 w-5 -translate-x-1/2 cursor-col-resize"
      style={{ left: map.left + frame.width * at * map.zoomX }}
      onKeyDown={(e) => {
        const d = e.key === "ArrowLeft" ? -0.02 : e.key === "ArrowRight" ? 0.02 : 0;
        if (!d) return;
        e.stopPropagation();
        put(at + d);
      }}
      onPointerDown={(e) => {
        e.stopPropagation();
        dragging.current = true;
        e.currentTarget.setPointerCapture(e.pointerId);
      }}
      onPointerMove={(e) => dragging.current && moveTo(e)}
      onPointerUp={() => {
        dragging.current = false;
      }}
    >
      <span className="absolute top-3 right-4 rounded bg-panel px-1.5 py-0.5 whitespace-nowrap">{name}</span>
      <span className="absolute top-3 left-4 rounded bg-panel px-1.5 py-0.5">now</span>
    </div>
  );
}
