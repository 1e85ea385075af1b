import { useSyncExternalStore } from "react";

const pace = 30_000;
let now = Date.now();

const subscribe = (changed: () => void) => {
  const tick = () => {
    now = Date.now();
    changed();
  };
  const timer = setInterval(tick, pace);
  return () => clearInterval(timer);
};

/** The time, to half a minute: what shows it is drawn again as it passes. */
export const useNow = () => useSyncExternalStore(subscribe, () => now);
