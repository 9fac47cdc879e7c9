import { type ReactNode, useRef } from "react";
import { Button } from "./Button";

interface FileButtonProps {
  /** What file is wanted, for screen readers. */
  label: string;
  accept: string;
  testId: string;
  onFile: (file: File) => void;
  disabled?: boolean;
  tone?: "plain" | "strong";
  size?: "normal" | "small";
  children: ReactNode;
}

/** A button that asks for a file; the same file can be chosen again. */
export function FileButton(props: FileButtonProps) {
  const picker = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={picker}
        type="file"
        accept={props.accept}
        aria-label={props.label}
        className="sr-only"
        tabIndex={-1}
        data-testid={props.testId}
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = "";
          if (file) props.onFile(file);
        }}
      />
      <Button
        tone={props.tone ?? "plain"}
        size={props.size ?? "normal"}
        disabled={props.disabled}
        onClick={() => picker.current?.click()}
      >
        {props.children}
      </Button>
    </>
  );
}
