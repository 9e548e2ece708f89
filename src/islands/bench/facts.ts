import type { MediaInfo } from "../../core/documents/media-info";

export const depthName = (info: MediaInfo): string => (info.layout.kind === "half" ? "16-bit float" : `${info.layout.bits} bit`);
export const rateName = (info: MediaInfo): string => (info.rate ? `${Number((info.rate.num / info.rate.den).toFixed(3))} fps` : "still");
