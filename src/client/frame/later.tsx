import { lazy, Suspense, useEffect, type ComponentType, type ReactNode } from "react";

const loads: (() => Promise<unknown>)[] = [];

/** A part that is not needed for the first screen: loaded when the page has nothing else to do, or as soon as it is drawn. */
function later<P extends object>(load: () => Promise<ComponentType<P>>) {
  const Part = lazy(async () => ({ default: await load() }));
  loads.push(load);
  return ({ before, ...props }: P & { /** Stands in its place until it is loaded. */ before?: ReactNode }) => (
    <Suspense fallback={before}>
      <Part {...(props as unknown as P)} />
    </Suspense>
  );
}

export const NewLead = later(async () => (await import("../Leads/NewLead")).NewLead);
export const Keys = later(async () => (await import("./Keys")).Keys);
export const LeavingDialog = later(async () => (await import("./LeavingDialog")).LeavingDialog);
export const PersonMenu = later(async () => (await import("./PersonMenu")).PersonMenu);
export const SignIn = later(async () => (await import("../Setup/SignIn")).SignIn);
export const SignInAgain = later(async () => (await import("../Setup/SignInAgain")).SignInAgain);

// Where a browser does not say when it is idle.
const soon = 1500;

/** Loads what is for later, so that it is there at once when it is asked for, also when the server is away by then. */
export function useLater() {
  useEffect(() => {
    const load = () => loads.forEach((l) => void l().catch(() => undefined));
    if (!("requestIdleCallback" in window)) {
      const timer = setTimeout(load, soon);
      return () => clearTimeout(timer);
    }
    const asked = requestIdleCallback(load, { timeout: soon });
    return () => cancelIdleCallback(asked);
  }, []);
}
