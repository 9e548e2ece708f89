import type { ButtonHTMLAttributes } from "react";

type Look = "plain" | "accent" | "quiet" | "chosen";
const looks: Record<Look, string> = {
  plain: "bg-raised hover:bg-lifted border-line text-text",
  accent: "bg-amber hover:brightness-110 border-amber text-black font-semibold",
  quiet: "border-transparent hover:bg-raised text-soft hover:text-text",
  chosen: "bg-lifted border-line text-white font-medium",
};

export function Button({ look = "plain", className = "", ...rest }: ButtonHTMLAttributes<HTMLButtonElement> & { look?: Look }) {
  return (
    <button
      type="button"
      className={`inline-flex items-center justify-center gap-1.5 rounded-md border px-2.5 py-1 leading-5 disabled:opacity-40 ${looks[look]} ${className}`}
      {...rest}
    />
  );
}
