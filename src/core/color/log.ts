import { z } from "zod";

const number = z.number().min(-100).max(100);
const slope = number.gt(0, { error: "it has to be over 0" });

/**
 * A logarithmic curve as cameras and film scans record, by the numbers its maker publishes; x is light, 0.18 a grey card, 1 a white reflector:
 * code = slope · log10(gain · x + offset) + base for light over `cut`, and linearSlope · x + linearBase under it.
 * Codes 0…1 are the file's whole range, in Y'CbCr black to white.
 */
export const logCurveSchema = z
  .strictObject({
    slope,
    gain: slope,
    offset: number,
    base: number,
    cut: number,
    linearSlope: slope,
    linearBase: number,
  })
  .refine((c) => c.gain * c.cut + c.offset > 0, {
    error: "At the cut there is no logarithm: gain · cut + offset must be over 0.",
  });
export type LogCurve = z.infer<typeof logCurveSchema>;

/** ACEScct. Source: Academy S-2016-001, section 4.4, whose binary logarithm is written as a decimal one. */
export const ACESCCT: LogCurve = {
  slope: 1 / (17.52 * Math.log10(2)),
  gain: 1,
  offset: 0,
  base: 9.72 / 17.52,
  cut: 0.0078125,
  linearSlope: 10.5402377416545,
  linearBase: 0.0729055341958355,
};

/**
 * Film density in ten bits: black at code 95, white at 685, 0.002 of density a code, gamma 0.6; carried on straight under black.
 * Source: G. Kennel, "Conversion of 10-bit Log Film Data to 8-bit Linear or Video Data", 1995; the density is SMPTE RP 180's.
 */
const PER_DECADE = 0.6 / 0.002 / 1023;
const BLACK = 10 ** ((95 - 685) / 1023 / PER_DECADE);
export const FILM_DENSITY: LogCurve = {
  slope: PER_DECADE,
  gain: 1 - BLACK,
  offset: BLACK,
  base: 685 / 1023,
  cut: 0,
  linearSlope: (PER_DECADE * (1 - BLACK)) / (Math.LN10 * BLACK),
  linearBase: 95 / 1023,
};

/** Light to code. */
export const linearToLog = (c: LogCurve, x: number): number =>
  x > c.cut ? c.slope * Math.log10(c.gain * x + c.offset) + c.base : c.linearSlope * x + c.linearBase;

/** Code to light. */
export const logToLinear = (c: LogCurve, v: number): number =>
  v > c.slope * Math.log10(c.gain * c.cut + c.offset) + c.base
    ? (10 ** ((v - c.base) / c.slope) - c.offset) / c.gain
    : (v - c.linearBase) / c.linearSlope;

/** How far the two parts of a curve lie apart where they meet, in codes of 0…1: nothing, but for digits that were rounded or mistyped. */
export const stepAtCut = (c: LogCurve): number =>
  Math.abs(c.slope * Math.log10(c.gain * c.cut + c.offset) + c.base - (c.linearSlope * c.cut + c.linearBase));
