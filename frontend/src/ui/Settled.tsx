import { useIsFetching } from "@tanstack/react-query";
import { type ComponentProps, useEffect, useState } from "react";

/** Answers follow each other that fast, ms; and no screen waits longer than that for them. */
const NEXT_MS = 60;
const LONGEST_MS = 1500;

/** The main part of a screen, shown once what it first asked for is there: nothing in it moves as answers arrive. */
export function SettledMain({ children, className, ...rest }: ComponentProps<"main">) {
  const fetching = useIsFetching() > 0;
  const [isSettled, setSettled] = useState(false);
  useEffect(() => {
    if (isSettled || fetching) return;
    const timer = setTimeout(() => setSettled(true), NEXT_MS);
    return () => clearTimeout(timer);
  }, [isSettled, fetching]);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(true), LONGEST_MS);
    return () => clearTimeout(timer);
  }, []);
  return (
    <main
      {...rest}
      aria-busy={!isSettled}
      className={isSettled ? className : `${className ?? ""} invisible`}
    >
      {children}
    </main>
  );
}
