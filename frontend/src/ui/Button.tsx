import clsx from "clsx";
import { Tooltip } from "radix-ui";
import type { ComponentProps, ReactNode } from "react";

interface ButtonProps extends ComponentProps<"button"> {
  tone?: "plain" | "strong" | "quiet";
  size?: "normal" | "small";
}

export function Button({ tone = "plain", size = "normal", className, ...rest }: ButtonProps) {
  return (
    <button
      type="button"
      className={clsx(
        "inline-flex items-center justify-center gap-1.5 rounded-md font-medium whitespace-nowrap disabled:opacity-45",
        size === "normal" ? "min-h-9 px-3" : "min-h-8 px-2.5 text-sm",
        tone === "strong" && "bg-accent text-accent-ink hover:opacity-90",
        tone === "plain" && "border border-edge bg-raised hover:bg-wash",
        tone === "quiet" && "hover:bg-wash",
        className,
      )}
      {...rest}
    />
  );
}

interface IconButtonProps extends Omit<ComponentProps<"button">, "aria-label"> {
  label: string;
  keys?: string;
  children: ReactNode;
}

/** A button with a picture only; its label is shown as a tip. */
export function IconButton({ label, keys, children, className, ...rest }: IconButtonProps) {
  return (
    <Tooltip.Root>
      <Tooltip.Trigger asChild>
        <button
          type="button"
          aria-label={label}
          aria-keyshortcuts={keys}
          className={clsx(
            "inline-grid size-9 place-items-center rounded-md hover:bg-wash disabled:opacity-40",
            className,
          )}
          {...rest}
        >
          {children}
        </button>
      </Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content
          sideOffset={4}
          className="z-50 rounded bg-ink px-2 py-1 text-sm text-ground shadow"
        >
          {label}
          {keys && <span className="ml-2 opacity-75">{keys.replace("Control+", "Ctrl ")}</span>}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}
