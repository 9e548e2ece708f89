/** Whole numbers with narrow no-break spaces between thousands. */
export const whole = (n: number): string =>
  Math.round(n)
    .toString()
    .replace(/\B(?=(\d{3})+(?!\d))/g, "\u202f");
/** Large ones in thousands, where there is little room. */
export const brief = (n: number): string => (n < 9_999.5 ? whole(n) : `${whole(n / 1000)}k`);
/** Words of the core with their whole numbers set as {@link whole} sets them. Decimals stay as they are. */
export const grouped = (words: string): string => words.replace(/(?<![\d.])\d{4,}(?![\d.])/g, (n) => whole(Number(n)));
export const percent = (share: number, decimals = 1): string => `${(100 * share).toFixed(decimals)} %`;

export function bytes(n: number): string {
  if (n < 1024 ** 2) return `${(n / 1024).toFixed(0)} kB`;
  if (n < 1024 ** 3) return `${(n / 1024 ** 2).toFixed(1)} MB`;
  return `${(n / 1024 ** 3).toFixed(2)} GB`;
}

export function seconds(s: number): string {
  if (s < 60) return `${Math.max(1, Math.round(s))} s`;
  return `${Math.floor(s / 60)} min ${Math.round(s % 60)} s`;
}

export const clock = (ms: number): string => new Date(ms).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" });
