import { areaRuns } from "../image/components";
import { distanceTo } from "../image/distance";
import { maskOver } from "../image/mask";
import { clipRegion, cropChannel, type Plane, type Region } from "../image/plane";
import { isCompact } from "../screen/areas";

/** Pull under which nothing holds a thing to the subject, and pull from which on it is solid. */
const HELD = 0.5;
const SOLID = 0.88;
/** Part of such a thing that is solid, and most that the pull may be around it, as a mean: it ends sharply, as smoke does not. */
const MOSTLY = 0.5;
const AROUND = 0.3;
/** Its own box against the largest island, shadow and rim included, that is dropped: at least. */
const LEAST = 1 / 5;
/** How far it stands from whatever else is held, px. */
const CLEAR = 3;

/**
 * Cuts markers off the subject that hang on it by their shadow alone: compact things of an island's size, solid and with sharp outlines, and nothing
 * but faint pull around. They go with what of the faint is nearer to them.
 * @param present changed: 1 where a pixel may be subject
 * @param most area up to which islands are dropped, px²
 */
export function cutOffMarkers(present: Uint8Array, { width, height, data }: Plane, most: number): void {
  const held = maskOver(data, HELD);
  const { count, starts, ends, labels, areas, atBorder } = areaRuns(held, width, height);
  const small = areas.map((a, label) => label > 0 && !atBorder[label] && a <= most);
  const boxes = new Map<number, { x0: number; y0: number; x1: number; y1: number; solid: number }>();
  for (let k = 0; k < count; k++) {
    const label = labels[k] as number;
    if (!small[label]) continue;
    const [start, end] = [starts[k] as number, ends[k] as number];
    const y = Math.floor(start / width);
    const b = boxes.get(label) ?? { x0: width, y0: y, x1: 0, y1: y, solid: 0 };
    b.x0 = Math.min(b.x0, start - y * width);
    b.x1 = Math.max(b.x1, end - y * width);
    b.y1 = y + 1;
    for (let i = start; i < end; i++) if ((data[i] as number) > SOLID) b.solid++;
    boxes.set(label, b);
  }
  for (const [label, b] of boxes) {
    const area = areas[label] as number;
    const box = { x: b.x0, y: b.y0, width: b.x1 - b.x0, height: b.y1 - b.y0 };
    const filled = box.width * box.height;
    if (filled > most || filled < LEAST * most || !isCompact(box, area) || b.solid < MOSTLY * area) continue;
    const room = Math.max(box.width, box.height);
    const near = { x: box.x - room, y: box.y - room, width: box.width + 2 * room, height: box.height + 2 * room };
    cutOff(present, { width, height, data }, held, box, clipRegion(near, width, height));
  }
}

/** Cuts off what fills a box, where it stands clear of all else that is held. */
function cutOff(present: Uint8Array, pull: Plane, held: Uint8Array, box: Region, near: Region): void {
  const around = cropChannel(held, pull.width, near);
  const own = new Uint8Array(around.length);
  for (let y = box.y - near.y; y < box.y - near.y + box.height; y++)
    for (let x = box.x - near.x; x < box.x - near.x + box.width; x++) {
      const i = y * near.width + x;
      own[i] = around[i] as number;
      around[i] = 0;
    }
  const toOwn = distanceTo(own, near.width, near.height);
  const toOthers = distanceTo(around, near.width, near.height);
  let [faint, rim] = [0, 0];
  for (let i = 0; i < own.length; i++) {
    if (own[i] && (toOthers[i] as number) < CLEAR) return;
    if (own[i] || (toOwn[i] as number) > CLEAR || (toOwn[i] as number) <= 1.5) continue;
    faint += pull.data[(near.y + Math.floor(i / near.width)) * pull.width + near.x + (i % near.width)] as number;
    rim++;
  }
  if (faint > AROUND * rim) return;
  for (let i = 0; i < own.length; i++)
    if ((toOwn[i] as number) < (toOthers[i] as number))
      present[(near.y + Math.floor(i / near.width)) * pull.width + near.x + (i % near.width)] = 0;
}
