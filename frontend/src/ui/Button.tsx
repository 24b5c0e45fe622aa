import type { ButtonHTMLAttributes } from "react";

const LOOKS = {
  plain: "border border-line-strong bg-sheet hover:bg-band",
  ink: "border border-ink bg-ink text-sheet hover:opacity-90",
  action: "border border-action bg-action text-action-ink hover:opacity-90",
  quiet: "border border-transparent hover:bg-band",
} as const;

interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
  look?: keyof typeof LOOKS;
}

export function Button({ look = "plain", className = "", ...rest }: Props) {
  return (
    <button
      type="button"
      className={`inline-flex min-h-8 items-center justify-center gap-1.5 rounded-control px-3 text-[13px] font-medium whitespace-nowrap disabled:cursor-default disabled:opacity-45 ${LOOKS[look]} ${className}`}
      {...rest}
    />
  );
}
