import { useIsFetching } from "@tanstack/react-query";
import { lazy, Suspense, useEffect, type ComponentType, type ReactNode } from "react";
import styled from "styled-components";

const wakes: (() => Promise<unknown>)[] = [];

const Waiting = styled.span`
  display: contents;
`;

/**
 * A part that the first screen does not need. It is loaded when the page has nothing else to do, or as soon as it is drawn;
 * one with something that stands in its place, as soon as that is pointed at or has the focus.
 */
export function later<P extends object>(load: () => Promise<ComponentType<P>>) {
  let wake!: () => void;
  const woken = new Promise<void>((resolve) => (wake = resolve));
  const Part = lazy(async () => {
    await woken;
    return { default: await load() };
  });
  wakes.push(() => {
    wake();
    return load();
  });
  return ({ before, ...props }: P & { /** Stands in its place until it is loaded. */ before?: ReactNode }) => {
    if (!before) wake();
    return (
      <Suspense
        fallback={
          before && (
            <Waiting onPointerEnter={wake} onFocus={wake}>
              {before}
            </Waiting>
          )
        }
      >
        <Part {...(props as unknown as P)} />
      </Suspense>
    );
  };
}

// Where a browser does not say when it is idle.
const soon = 1500;

/** Loads what is for later once the page has its answers, so that it is there at once when it is asked for, also when the server is away by then. */
export function useLater() {
  const isAnswered = useIsFetching() === 0;
  useEffect(() => {
    if (!isAnswered) return;
    const load = () => wakes.forEach((w) => void w().catch(() => undefined));
    if (!("requestIdleCallback" in window)) {
      const timer = setTimeout(load, soon);
      return () => clearTimeout(timer);
    }
    const asked = requestIdleCallback(load, { timeout: soon });
    return () => cancelIdleCallback(asked);
  }, [isAnswered]);
}
