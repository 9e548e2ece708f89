import { memo } from "react";
import { Area, AreaChart, ResponsiveContainer, XAxis, YAxis } from "recharts";
import { percent } from "../ui/format";
import { kneeLevel } from "./recipe-control";
import { currentPass, shownRecipe, useBench } from "./store";

/** Room left and right of the chart, px. */
const MARGIN = 2;
const EMPTY: readonly number[] = new Array<number>(128).fill(0);

/** How much of the frame lies at each level of the pull, with black and white point. The height is a logarithm: soft levels are few. */
export default function MatteHistogram() {
  const histogram = useBench((s) => s.figures?.histogram ?? EMPTY);
  const black = useBench((s) => currentPass(s, shownRecipe(s)).matte.black);
  const white = useBench((s) => currentPass(s, shownRecipe(s)).matte.white);
  const knee = useBench((s) => kneeLevel(currentPass(s, shownRecipe(s))));
  const soft = useBench((s) => s.figures?.softBand ?? 0);
  return (
    <figure
      className="mb-2 rounded-md bg-page p-1.5"
      aria-label={`Histogram of the pull; black point ${percent(black)}, white point ${percent(white)}${knee > black ? ` from ${percent(knee)} on` : ""}`}
    >
      <div className="relative h-20">
        <Levels histogram={histogram} />
        {/* Over the chart and not in it: they move with the hand, and the chart need not be drawn anew. */}
        <LevelLine at={black} />
        <LevelLine at={white} />
        {knee > black && <LevelLine at={knee} faint />}
      </div>
      <figcaption className="figure flex flex-wrap justify-between gap-x-2 px-1 text-[11px] whitespace-nowrap text-faint">
        <span>{`black ${(100 * black).toFixed(1)}`}</span>
        <span>{`soft ${(100 * soft).toFixed(1)} %`}</span>
        <span>{`white ${(100 * white).toFixed(1)}`}</span>
        {knee > black && <span className="basis-full text-right">{`works from ${(100 * knee).toFixed(1)}, the faint line`}</span>}
      </figcaption>
    </figure>
  );
}

/** @param at level, 0…1 @param faint where something begins, and does not end */
const LevelLine = ({ at, faint = false }: { at: number; faint?: boolean }) => (
  <span
    className={`pointer-events-none absolute inset-y-0 w-px ${faint ? "bg-faint" : "bg-text"}`}
    style={{ left: `calc(${MARGIN}px + (100% - ${2 * MARGIN + 1}px) * ${at})` }}
  />
);

const Levels = memo(function Levels({ histogram }: { histogram: readonly number[] }) {
  const data = histogram.map((share, i) => ({
    level: (100 * (i + 0.5)) / histogram.length,
    height: Math.log10(1 + share * 1e5),
  }));
  return (
    <ResponsiveContainer width="100%" height="100%">
      <AreaChart data={data} margin={{ top: 2, right: MARGIN, bottom: 0, left: MARGIN }} accessibilityLayer={false}>
        <XAxis dataKey="level" type="number" domain={[0, 100]} hide />
        <YAxis domain={[0, 5]} hide />
        <Area dataKey="height" stroke="none" fill="#6e6e6e" isAnimationActive={false} />
      </AreaChart>
    </ResponsiveContainer>
  );
});
