import { luminance } from "../color/hue";
import { boxMean } from "../image/box";
import { lumaOf } from "../image/luma";
import { linesOf } from "../image/plane";
import { otherChannels } from "../screen/primary";
import { beyondChannels, neutralLimit, type SpillLimit } from "../spill/limit";
import { ownExcess } from "../spill/own-colour";
import type { Finding, JudgedPass } from "./findings";
import { clamp, type Judged, place, share } from "./judged";

/**
 * What the primary is compared with: the mean of the two other channels; before a screen between two primaries, the mix beyond them that its
 * light is limited to. With it, the part of a primary that is in excess.
 */
function comparedBy({ spill: { limit, mix } }: JudgedPass) {
  const neutral: SpillLimit = beyondChannels(limit, mix) ? limit : "average";
  const excess = (p: number, u: number, v: number) => p - neutralLimit(u, v, neutral, mix);
  return { neutral, excess, purity: (p: number, u: number, v: number) => excess(p, u, v) / Math.max(1e-4, p) };
}

/** Depth of the rim and of the inside, shares of the frame's lines; and what the rim may have more than the inside, as a share of light. */
const RIM = 1 / 60;
const INSIDE = 1 / 24;
const SPILL = 0.012;
/** What it may have beyond its surfaces' own, as a share of light. */
const LEFT = 0.004;
const PINK = 0.012;
/** What treatment may take from the inside of warm surfaces, as a share of light. */
const DRAINED = 0.025;
/** Purity, as a share of the screen's own, from which on a surface has the screen's own hue: its excess is no spill. */
const NEAR = 0.3;
/** Light under which a pixel has no colour to judge. */
const DARK = 0.03;

/** What a colour lacks of the primary against both others, as a share of its light. */
const lacks = (p: number, u: number, v: number) => Math.max(0, Math.min(u, v) - p) / Math.max(DARK, p + u + v);

/** Spill that is left, and spill treatment that went too far: the rim's colour against the inside's. */
export function rimColour(j: Judged, pass: JudgedPass): (Finding | null)[] {
  const { foreground: f, primary, depth, height } = j;
  const lines = linesOf(j);
  const [un, vn] = otherChannels(primary);
  const n = depth.length;
  const green = new Float32Array(n);
  const pink = new Float32Array(n);
  const { limit, mix } = pass.spill;
  const beyond = beyondChannels(limit, mix);
  const { neutral, excess, purity } = comparedBy(pass);
  const own = purity(j.screen[primary], j.screen[un], j.screen[vn]);
  // Cloth of the screen's own hue, and the rim beside it. What surfaces lack of the primary by themselves, as leather lacks blue: what those beside
  // the rim have of it well inside.
  const [cloth, within, lack] = [new Float32Array(n), new Float32Array(n), new Float32Array(n)];
  for (let i = 0; i < n; i++) {
    if (!j.solid[i] || (depth[i] as number) < INSIDE * lines) continue;
    within[i] = 1;
    lack[i] = lacks(f[primary][i] as number, f[un][i] as number, f[vn][i] as number);
    if (purity(j.plate[primary][i] as number, j.plate[un][i] as number, j.plate[vn][i] as number) > NEAR * own) cloth[i] = 1;
  }
  cloth.set(boxMean(cloth, j.width, height, Math.ceil(1.3 * INSIDE * lines)));
  for (let i = 0; i < n; i++) cloth[i] = (cloth[i] as number) > 0.02 ? 1 : 0;
  const reach = Math.ceil(1.5 * INSIDE * lines);
  const [lackNear, withinNear] = [boxMean(lack, j.width, height, reach), boxMean(within, j.width, height, reach)];
  const surface = ownExcess(j.plate, j.pull, { primary, limit: neutral, mix, nearScreen: j.nearScreen?.data ?? cloth });
  let [left, drained, warm] = [0, 0, 0];
  const drain = new Float32Array(n);
  const sums = { rim: { green: 0, pink: 0, n: 0 }, inside: { green: 0, pink: 0, n: 0 } };
  for (let i = 0; i < n; i++) {
    const d = (depth[i] as number) / lines;
    if (!j.solid[i] || (depth[i] as number) < 1.5 || (j.matte.data[i] as number) < 0.9) continue;
    const zone = d <= RIM ? sums.rim : d >= INSIDE ? sums.inside : null;
    if (!zone) continue;
    const [p, u, v] = [f[primary][i] as number, f[un][i] as number, f[vn][i] as number];
    const light = p + u + v;
    if (light < DARK || (cloth[i] as number) > 0) continue;
    const [P, U, V] = [j.plate[primary][i] as number, j.plate[un][i] as number, j.plate[vn][i] as number];
    const all = Math.max(DARK, P + U + V);
    const over = Math.max(0, excess(p, u, v)) / light;
    // What lacks the primary by itself lacked it on the plate too, where the screen's light did not make up for it.
    const itself = Math.max(lacks(P, U, V), (lackNear[i] as number) / Math.max(1e-6, withinNear[i] as number));
    const under = Math.max(0, lacks(p, u, v) - itself);
    zone.green += over;
    zone.pink += under;
    zone.n++;
    if (zone === sums.inside) {
      // A primary under the larger of the others is a warm surface's own; what is taken from it was no spill.
      const taken = P <= Math.max(U, V) ? Math.max(0, excess(P, U, V) / all - excess(p, u, v) / light) : 0;
      drained += taken;
      warm++;
      drain[i] = taken;
    }
    if (zone === sums.rim) {
      const most = surface ? (surface[i] as number) * luminance({ r: f.r[i] as number, g: f.g[i] as number, b: f.b[i] as number }) : 0;
      const beyondOwn = Math.max(0, excess(p, u, v) - most) / light;
      left += beyondOwn;
      green[i] = surface ? beyondOwn : Math.max(0, over - 0.03);
      pink[i] = under;
    }
  }
  const { rim, inside } = sums;
  if (rim.n < 30) return [];
  const more = (what: "green" | "pink") => rim[what] / rim.n - (inside.n > 30 ? inside[what] / inside.n : 0);
  // Where too little of the subject lies deep to tell what is a surface's own, by the rim against the inside.
  const spill = surface ? left / rim.n : more("green");
  const over = more("pink");
  const inner = warm > 30 ? drained / warm : 0;
  const name = { r: "red", g: "green", b: "blue" }[primary];
  return [
    spill > (surface ? LEFT : SPILL)
      ? {
          kind: "spill-left",
          severity: clamp(0.3 + 8 * spill),
          figure: share(spill),
          what: "Screen light is left on the rim",
          why: surface
            ? `The rim has ${share(spill)} more ${name} over its neutral limit than is its surfaces' own.`
            : `The rim has ${share(spill)} more ${name} over its neutral limit than the inside of the subject.`,
          remedy:
            pass.spill.amount < 1
              ? "Take all of the excess"
              : beyond
                ? "Take it over all hues"
                : "Limit to the mean of the other channels, over all hues",
          step: "Spill",
          place: place(j, green),
          changes: [
            { path: "spill.amount", value: 1 },
            { path: "spill.limit", value: neutral },
            { path: "spill.reachWarm", value: 180 },
            { path: "spill.reachCool", value: 180 },
          ],
        }
      : null,
    over > PINK || inner > DRAINED
      ? {
          kind: "over-corrected",
          severity: clamp(0.3 + 8 * Math.max(over, inner)),
          figure: share(Math.max(over, inner)),
          what: "Spill treatment went too far",
          why:
            inner > DRAINED
              ? `Well inside the subject, where little of the screen's light falls, ${share(inner)} of ${name} is taken from warm surfaces.`
              : `The rim lacks ${share(over)} of ${name} that the inside has: over a light background it looks ${primary === "b" ? "yellow" : primary === "r" ? "cyan" : "pink"}.`,
          remedy:
            pass.spill.protect < 0.5
              ? "Let surfaces keep their own colour"
              : limit === neutral
                ? "Take less"
                : "Limit to the mean of the other channels and put neutral light back",
          step: "Spill",
          place: place(j, inner > DRAINED ? drain : pink),
          changes:
            pass.spill.protect < 0.5
              ? [
                  { path: "spill.protect", value: 1 },
                  { path: "spill.limit", value: neutral },
                ]
              : limit === neutral
                ? [{ path: "spill.amount", value: Math.round(75 * pass.spill.amount) / 100 }]
                : [
                    { path: "spill.limit", value: neutral },
                    { path: "spill.replace", value: "neutral" },
                  ],
        }
      : null,
  ];
}

/** Share of the soft edge that is far darker than it should be from which on a line shows, and how far. */
const LINE = 0.15;
const DARKER = 0.6;
const SOLID_NEAR = 6;

export function darkLine(j: Judged, pass: JudgedPass): Finding | null {
  const { foreground: f, matte, width, height } = j;
  const n = matte.data.length;
  const light = lumaOf(f).data;
  const [sure, ofSure] = [new Float32Array(n), new Float32Array(n)];
  for (let i = 0; i < n; i++) {
    light[i] = Math.max(0, light[i] as number);
    if ((matte.data[i] as number) <= 0.97) continue;
    sure[i] = 1;
    ofSure[i] = light[i] as number;
  }
  const [near, weight] = [boxMean(ofSure, width, height, SOLID_NEAR), boxMean(sure, width, height, SOLID_NEAR)];
  const marks = new Float32Array(n);
  let [band, dark] = [0, 0];
  const one = luminance(j.screen);
  const behind = (i: number) =>
    j.clean ? luminance({ r: j.clean.r[i] as number, g: j.clean.g[i] as number, b: j.clean.b[i] as number }) : one;
  for (let i = 0; i < n; i++) {
    const [p, m] = [j.pull.data[i] as number, matte.data[i] as number];
    if (m < 0.3 || (j.depth[i] as number) + (j.away[i] as number) > 5) continue;
    const y = luminance({ r: j.plate.r[i] as number, g: j.plate.g[i] as number, b: j.plate.b[i] as number });
    let wanted: number;
    if (p >= 0.35 && p <= 0.9)
      // What is left of the plate's light when the screen's share is taken out: the edge's own light, however dark the subject is.
      wanted = (y - (1 - p) * behind(i)) / p;
    else if (p < 0.2 && (weight[i] as number) > 0.1)
      // The matte holds what is screen: what shows there should look like the subject beside it.
      wanted = (near[i] as number) / (weight[i] as number);
    else continue;
    if (wanted < 0.02) continue;
    band++;
    if ((light[i] as number) < DARKER * wanted) {
      dark++;
      marks[i] = 1;
    }
  }
  if (band < 30 || dark < LINE * band) return null;
  const out = pass.edge.screenOut < 1;
  return {
    kind: "dark-line",
    severity: clamp(dark / band),
    figure: share(dark / band),
    what: "A dark line along the edge",
    why: `${share(dark / band)} of the soft edge is far darker than the subject beside it.`,
    remedy: out ? "Take the screen out of mixed pixels in full" : "Carry the subject's colour outwards under the soft band",
    step: "Edge",
    place: place(j, marks),
    changes: out ? [{ path: "edge.screenOut", value: 1 }] : pass.edge.carry < 1 ? [{ path: "edge.carry", value: 1 }] : null,
  };
}

/** Excess over the screen's own, on one brightness, from which on a surface looks like screen; and its least share of the subject. */
const LIKE_SCREEN = 0.35;
const LEAST_LIKE = 0.004;

export function screenInside(j: Judged, pass: JudgedPass): Finding | null {
  const { plate, primary, screen, depth } = j;
  const [un, vn] = otherChannels(primary);
  const { purity } = comparedBy(pass);
  const own = purity(screen[primary], screen[un], screen[vn]);
  let count = 0;
  const marks = new Float32Array(depth.length);
  for (let i = 0; i < marks.length; i++) {
    if (!j.solid[i] || (depth[i] as number) < 2 * j.margin || (j.matte.data[i] as number) < 0.9) continue;
    const p = plate[primary][i] as number;
    if (!(p > 0.01 && purity(p, plate[un][i] as number, plate[vn][i] as number) > LIKE_SCREEN * own)) continue;
    count++;
    marks[i] = 1;
  }
  if (count < LEAST_LIKE * j.area) return null;
  const kept = pass.spill.protect >= 0.5;
  return {
    kind: "screen-inside",
    severity: clamp(0.2 + 2 * (count / j.area)) * (kept ? 0.5 : 1),
    figure: share(count / j.area),
    what: "Something inside the subject has the screen's colour",
    why: "Cloth or a prop close to the screen is drained by spill treatment; a mirror or glossy face shows the screen itself.",
    remedy: kept
      ? "It keeps its own colour; look whether it is cloth or the screen showing"
      : "Let surfaces keep their own colour, or draw a holdout",
    step: "Spill",
    place: place(j, marks),
    changes: kept ? null : [{ path: "spill.protect", value: 1 }],
  };
}
