import { Line, LineChart, ResponsiveContainer, XAxis, YAxis } from "recharts";
import type { ShotFrame } from "../../core/recipe/judge";

/** The figures of every measured frame as curves over the strip's frames. */
export default function StripCurves({ measured, frames }: { measured: readonly ShotFrame[]; frames: number }) {
  return (
    <ResponsiveContainer width="100%" height="100%">
      <LineChart data={measured} margin={{ top: 4, right: 0, bottom: 2, left: 0 }} accessibilityLayer={false}>
        <XAxis dataKey="frame" type="number" domain={[0.5, frames + 0.5]} hide />
        <YAxis hide domain={[0, "auto"]} />
        <YAxis yAxisId="flicker" hide domain={[0, "auto"]} />
        <YAxis yAxisId="clearance" hide domain={[0, "auto"]} />
        <Line
          yAxisId="flicker"
          dataKey="flicker"
          stroke="#b4b4b4"
          strokeWidth={1.4}
          strokeDasharray="1 3"
          dot={false}
          isAnimationActive={false}
        />
        <Line
          yAxisId="clearance"
          dataKey="clearance"
          stroke="#8f8f8f"
          strokeWidth={1.4}
          strokeDasharray="9 3 2 3"
          dot={false}
          isAnimationActive={false}
        />
        <Line dataKey="holes" stroke="#ececec" strokeWidth={1.6} dot={false} isAnimationActive={false} />
        <Line dataKey="residue" stroke="#b4b4b4" strokeWidth={1.4} strokeDasharray="4 3" dot={false} isAnimationActive={false} />
      </LineChart>
    </ResponsiveContainer>
  );
}
