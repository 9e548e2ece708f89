import { Area, AreaChart, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from "recharts";
import { currentPass, shownRecipe, useBench } from "./store";

/** How much of the frame lies at each level of the pull, with black and white point. The height is a logarithm: soft levels are few. */
export default function MatteHistogram() {
  const histogram = useBench((s) => s.figures?.histogram);
  const { black, white } = useBench((s) => currentPass(s, shownRecipe(s)).matte);
  const soft = useBench((s) => s.figures?.softBand ?? 0);
  const data = (histogram ?? new Array<number>(128).fill(0)).map((share, i) => ({
    level: (100 * (i + 0.5)) / 128,
    height: Math.log10(1 + share * 1e5),
  }));
  return (
    <figure
      className="mb-2 rounded-md bg-page p-1.5"
      aria-label={`Histogram of the pull; black point ${(100 * black).toFixed(1)} %, white point ${(100 * white).toFixed(1)} %`}
    >
      <div className="h-20">
        <ResponsiveContainer width="100%" height="100%">
          <AreaChart data={data} margin={{ top: 2, right: 2, bottom: 0, left: 2 }} accessibilityLayer={false}>
            <XAxis dataKey="level" type="number" domain={[0, 100]} hide />
            <YAxis domain={[0, 5]} hide />
            <Area dataKey="height" stroke="none" fill="#6e6e6e" isAnimationActive={false} />
            <ReferenceLine x={100 * black} stroke="#ececec" />
            <ReferenceLine x={100 * white} stroke="#ececec" />
          </AreaChart>
        </ResponsiveContainer>
      </div>
      <figcaption className="figure flex justify-between gap-2 px-1 text-[11px] whitespace-nowrap text-faint">
        <span>{`black ${(100 * black).toFixed(1)}`}</span>
        <span>{`soft ${(100 * soft).toFixed(1)} %`}</span>
        <span>{`white ${(100 * white).toFixed(1)}`}</span>
      </figcaption>
    </figure>
  );
}
