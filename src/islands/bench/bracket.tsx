import { useEffect, useMemo, useRef, useState } from "react";
import { CartesianGrid, Line, LineChart, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from "recharts";
import type { Region } from "../../core/image/plane";
import { bracketValues, proposeKnee } from "../../core/measure/trade-off";
import type { Measured } from "../../core/recipe/judge";
import type { Recipe } from "../../core/recipe/schema";
import type { Drawn } from "../../workers/key-worker";
import { smallReduce } from "../../workers/small";
import { Button } from "../ui/button";
import { grouped, percent, whole } from "../ui/format";
import { type Bracketed, bracketables } from "./bracketed";
import { toCanvas } from "./drawn";
import { bracketWorker, cropLookedAt, drawRequest, drawWorker } from "./engine";
import { complain, currentPass, settle, useBench, withFootage } from "./store";

interface Variant {
  /** In the controls' units: one value, or two. */
  readonly values: readonly number[];
  readonly recipe: Recipe;
}
interface Figured {
  readonly figures: Measured | null;
  readonly flicker: number | null;
}

const COUNT = 5;
const SIDE = 3;
/** Pixels of a card's picture. */
const CARD = { width: 142, height: 168 };

/** Variants of one control, or of two, on the place where the picture changes most. Closing it leaves no trace. */
export default function Bracket() {
  const first = useBench((s) => s.bracket) as Bracketed;
  const recipe = useBench((s) => s.recipe);
  const frame = useBench((s) => s.view.frame);
  const view = useBench((s) => s.view.view);
  const ground = useBench((s) => s.view.ground);
  const [second, setSecond] = useState<Bracketed | null>(null);
  const [spread, setSpread] = useState(1);
  const [crop, setCrop] = useState<Region | null>(null);
  const pinned = useBench((s) => s.bracketCrop);
  const [pictures, setPictures] = useState<ReadonlyMap<number, Drawn>>(new Map());
  const [figured, setFigured] = useState<ReadonlyMap<number, Figured>>(new Map());
  const [took, setTook] = useState<number | null>(null);
  const [sharp, setSharp] = useState<number | null>(null);

  const variants = useMemo((): Variant[] => {
    const row = (c: Bracketed, count: number) => bracketValues(c.factor * c.get(recipe), spread * c.spread, count, c.min, c.max);
    const across = row(first, second ? SIDE : COUNT);
    const down = second ? row(second, SIDE) : [null];
    return down.flatMap((d) =>
      across.map((a) => {
        const one = first.put(recipe, a / first.factor);
        return d === null || !second ? { values: [a], recipe: one } : { values: [a, d], recipe: second.put(one, d / second.factor) };
      }),
    );
  }, [first, second, spread, recipe]);
  const now = variants.findIndex((v) =>
    v.values.every((x, k) => Math.abs(x - [first, second][k]!.factor * [first, second][k]!.get(recipe)) < 1e-9),
  );

  useEffect(() => {
    let stale = false;
    setPictures(new Map());
    setFigured(new Map());
    setTook(null);
    setSharp(null);
    const started = performance.now();
    const pass = currentPass(useBench.getState(), recipe).id;
    const about = { frame, view, ground, ...(recipe.passes.length > 1 ? { pass } : {}) };
    const of = (r: Recipe) => ({ ...about, ...withFootage(r) });
    void (async () => {
      try {
        const [a, b] = [variants[0] as Variant, variants[variants.length - 1] as Variant];
        // First at the viewer's own size, whose steps are ready; at full size once all are there.
        const reduce = drawRequest(false)?.reduce ?? 1;
        // From what it is now outwards.
        const order = variants.map((_, i) => i).sort((p, q) => Math.abs(p - now) - Math.abs(q - now));
        const recipeOf = (i: number) => (variants[i] as Variant).recipe;
        const draw = async (region: Region, at: number) => {
          for (const i of order) {
            const drawn = await drawWorker().draw({ ...of(recipeOf(i)), region, reduce: at });
            if (stale) return;
            setPictures((map) => new Map(map).set(i, drawn));
          }
        };
        const measure = async () => {
          for (const i of order) {
            const { plate, clean } = of(recipeOf(i));
            const made = await bracketWorker().smallFigures(recipeOf(i), plate, clean, frame);
            if (stale) return;
            setFigured((map) => new Map(map).set(i, made));
          }
        };
        const measuring = measure();
        const whole = (v: Variant) => ({ ...of(v.recipe), reduce });
        const place = pinned ?? (await drawWorker().changesMost(whole(a), whole(b), CARD.width / CARD.height));
        if (stale) return;
        setCrop(place);
        await Promise.all([draw(place, reduce), measuring]);
        if (stale) return;
        const seconds = () => (performance.now() - started) / 1000;
        setTook(seconds());
        if (reduce > 1) await draw(place, 1);
        if (!stale) setSharp(seconds());
      } catch (error) {
        if (!stale) complain(error);
      }
    })();
    return () => {
      stale = true;
    };
  }, [variants, now, frame, view, ground, recipe, pinned]);

  const measured = variants.map((_, i) => figured.get(i));
  const points = measured.every((m) => m?.figures)
    ? measured.map((m) => ({ ...(m as Figured & { figures: Measured }).figures, flicker: (m as Figured).flicker }))
    : null;
  const knee = points && proposeKnee(points, Math.max(0, now));
  const inWords = (v: Variant) =>
    v.values.map((x, k) => `${x.toFixed([first, second][k]!.decimals)} ${[first, second][k]!.unit}`.trim()).join(" · ");

  const close = () => useBench.setState({ bracket: null });
  const choose = (i: number) => {
    const v = variants[i];
    if (!v) return;
    close();
    if (i === now) return;
    const from = inWords(variants[now] ?? v);
    const name = second ? `${first.label} and ${second.label}` : first.label;
    settle(first.step, `${name} ${from} → ${inWords(v)}, from a bracket`, () => v.recipe);
  };
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if ((e.target as HTMLElement | null)?.closest("input, select, textarea")) return;
      if (e.key === "Escape") close();
      else if (e.key === "Enter" && knee) choose(knee.index);
      else if (/^[1-9]$/.test(e.key) && Number(e.key) <= variants.length) choose(Number(e.key) - 1);
      else return;
      e.preventDefault();
      e.stopPropagation();
    };
    window.addEventListener("keydown", onKey, true);
    return () => window.removeEventListener("keydown", onKey, true);
  });

  const figuresAt = useBench((s) => smallReduce(s.shot.plate.info));
  const others = bracketables(first.step).filter((c) => c.label !== first.label);
  return (
    <section aria-label={`Bracket: ${first.label}`} data-testid="bracket" className="absolute inset-0 overflow-y-auto bg-surround p-4">
      <header className="mb-2.5 flex items-center gap-2.5">
        <h2 className="font-semibold">Bracket: {first.label.toLowerCase()}</h2>
        <span className="grow text-[12px] text-soft">
          {crop ? `at ${crop.x + Math.round(crop.width / 2)}, ${crop.y + Math.round(crop.height / 2)}` : "…"}
          {took !== null && ` · ${took.toFixed(1)} s`}
          {took !== null && (sharp === null ? ", sharpening…" : sharp - took > 0.05 ? `, full size ${sharp.toFixed(1)} s` : "")}
          {figuresAt > 1 && (
            <span
              title="To compare them with each other; the figures beside the steps are exact."
              className="block"
            >{`figures at 1/${figuresAt} size`}</span>
          )}
        </span>
        <select
          aria-label="Crop"
          className="rounded-md border border-line bg-raised px-2 py-1"
          value={pinned ? "pinned" : "most"}
          onChange={(e) => useBench.setState({ bracketCrop: e.target.value === "pinned" ? cropLookedAt(CARD.width / CARD.height) : null })}
        >
          <option value="most">most change</option>
          <option value="pinned">where I look</option>
        </select>
        <select
          aria-label="And a second control"
          className="max-w-40 rounded-md border border-line bg-raised px-2 py-1"
          value={second?.label ?? ""}
          onChange={(e) => setSecond(others.find((c) => c.label === e.target.value) ?? null)}
        >
          <option value="">alone</option>
          {others.map((c) => (
            <option key={c.label} value={c.label}>
              with {c.label.toLowerCase()}
            </option>
          ))}
        </select>
        <Button onClick={() => setSpread(spread / 2)}>Narrower</Button>
        <Button onClick={() => setSpread(spread * 2)}>Wider</Button>
        <Button look="quiet" onClick={close}>
          Cancel
        </Button>
      </header>
      <ol className={`grid gap-2 ${second ? "grid-cols-3" : "grid-cols-5"}`}>
        {variants.map((v, i) => (
          <Card
            key={v.values.join("/")}
            number={i + 1}
            words={inWords(v)}
            drawn={pictures.get(i)}
            figured={figured.get(i)}
            tag={knee?.index === i ? (i === now ? "now, proposed" : "proposed") : i === now ? "now" : null}
            low={second !== null}
            onChoose={() => choose(i)}
          />
        ))}
      </ol>
      {!second && points && (
        <div className="mt-3 h-[180px] rounded-md bg-panel p-2">
          <ResponsiveContainer width="100%" height="100%">
            <LineChart
              data={points.map((p, i) => ({ value: variants[i]?.values[0], open: p.holes + p.residue, loss: 100 * p.edgeLoss }))}
              margin={{ top: 16, right: 8, bottom: 0, left: 0 }}
              accessibilityLayer={false}
            >
              <CartesianGrid stroke="#3a3a3a" vertical={false} />
              <XAxis
                dataKey="value"
                type="number"
                domain={["dataMin", "dataMax"]}
                ticks={variants.map((v) => v.values[0] as number)}
                tick={{ fill: "#9a9a9a", fontSize: 11 }}
                tickFormatter={(v: number) => v.toFixed(first.decimals)}
                stroke="#4a4a4a"
              />
              <YAxis
                yAxisId="open"
                tick={{ fill: "#9a9a9a", fontSize: 11 }}
                width={56}
                stroke="#4a4a4a"
                label={{ value: "holes + residue px", position: "insideTopLeft", offset: -12, dx: 60, fill: "#9a9a9a", fontSize: 11 }}
              />
              <YAxis
                yAxisId="loss"
                orientation="right"
                tick={{ fill: "#9a9a9a", fontSize: 11 }}
                width={44}
                stroke="#4a4a4a"
                label={{ value: "edge loss %", position: "insideTopRight", offset: -12, dx: -50, fill: "#9a9a9a", fontSize: 11 }}
              />
              {knee && <ReferenceLine yAxisId="open" x={variants[knee.index]?.values[0] as number} stroke="#e2a54a" strokeWidth={1.5} />}
              <Line
                yAxisId="open"
                dataKey="open"
                stroke="#ececec"
                strokeWidth={1.8}
                dot={{ r: 2, fill: "#ececec" }}
                isAnimationActive={false}
              />
              <Line
                yAxisId="loss"
                dataKey="loss"
                stroke="#b4b4b4"
                strokeWidth={1.6}
                strokeDasharray="5 3"
                dot={{ r: 2, fill: "#b4b4b4", strokeDasharray: "0" }}
                isAnimationActive={false}
              />
            </LineChart>
          </ResponsiveContainer>
        </div>
      )}
      <p className="mt-2 text-soft" aria-live="polite">
        {points
          ? knee
            ? `Proposed: ${inWords(variants[knee.index] as Variant)}; ${grouped(knee.why)}. Press its number, or Enter for what is proposed; Esc leaves everything as it was.`
            : "The figures hardly change here: judge by eye. Press a number; Esc leaves everything as it was."
          : "Computing…"}
      </p>
    </section>
  );
}

function Card(props: {
  number: number;
  words: string;
  drawn: Drawn | undefined;
  figured: Figured | undefined;
  tag: string | null;
  low: boolean;
  onChoose: () => void;
}) {
  const { number, words, drawn, figured, tag, low, onChoose } = props;
  const ref = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const c = ref.current;
    if (!c || !drawn) return;
    c.width = drawn.width;
    c.height = drawn.height;
    c.getContext("2d")?.drawImage(toCanvas(drawn), 0, 0);
  }, [drawn]);
  const f = figured?.figures;
  const proposed = tag?.includes("proposed");
  return (
    <li>
      <button
        type="button"
        data-tag={tag ?? ""}
        aria-label={`${number}: ${words}${tag ? `, ${tag}` : ""}`}
        onClick={onChoose}
        className={`block w-full rounded-md border-2 bg-panel p-1 text-left hover:border-white ${proposed ? "border-amber" : tag ? "border-soft" : "border-transparent"}`}
      >
        <canvas ref={ref} aria-hidden className={`w-full rounded-sm bg-page object-cover ${low ? "h-[104px]" : "h-[168px]"}`} />
        <span className="mt-1 flex items-center justify-between gap-1 px-1">
          <span className="figure font-semibold">{words}</span>
          {tag && (
            <span className={`rounded px-1 text-[11px] ${proposed ? "bg-amber text-black" : "border border-line text-soft"}`}>{tag}</span>
          )}
        </span>
        <span className="figure block px-1 pb-0.5 text-[11px] leading-4 text-soft">
          {f ? (
            <>
              <span className={low ? "inline" : "block"}>{`holes ${whole(f.holes)} px${low ? " · " : ""}`}</span>
              <span className={low ? "inline" : "block"}>{`residue ${whole(f.residue)} px`}</span>
              <span className="block">
                {`edge loss ${percent(f.edgeLoss)}`}
                {figured?.flicker != null && `${low ? " · " : ", "}${figured.flicker.toFixed(1)} ‰`}
              </span>
            </>
          ) : (
            <span className="block">…</span>
          )}
        </span>
      </button>
    </li>
  );
}
