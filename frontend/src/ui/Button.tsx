import type { ComponentProps } from "react";

const LOOKS = {
  plain: "border-rule bg-sheet hover:border-ink disabled:text-faint/60 disabled:hover:border-rule",
  main: "border-hand bg-hand text-white hover:bg-[#144e48] disabled:border-rule disabled:bg-shade disabled:text-faint",
  wrong: "border-wrong bg-sheet text-wrong hover:bg-wrong-wash",
  quiet: "border-transparent hover:border-rule disabled:text-faint/60",
};

interface Props extends ComponentProps<"button"> {
  look?: keyof typeof LOOKS;
  /** The key that does the same; shown beside the words. */
  shortcut?: string;
  /** For a lone icon. */
  tight?: boolean;
}

export function Button({ look = "plain", shortcut, tight, className = "", children, ...rest }: Props) {
  return (
    <button
      type="button"
      className={`inline-flex h-7 items-center justify-center gap-1.5 border ${tight ? "w-7" : "px-2.5"} whitespace-nowrap ${LOOKS[look]} ${className}`}
      {...rest}
    >
      {children}
      {shortcut && <Key>{shortcut}</Key>}
    </button>
  );
}

export function Key({ children }: { children: string }) {
  return <kbd className="figure text-[12.5px] leading-none opacity-65">{children}</kbd>;
}
