/** Everything that the viewer can show. */
export const VIEWS = [
  "composite",
  "matte",
  "stretched",
  "owners",
  "edgeColour",
  "pull",
  "plate",
  "prepared",
  "cleanPlate",
  "levelled",
  "evenness",
  "noise",
  "bounds",
  "autoBounds",
  "spillRemoved",
  "spillMap",
] as const;
export type View = (typeof VIEWS)[number];
