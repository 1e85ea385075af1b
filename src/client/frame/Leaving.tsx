import { useEffect } from "react";
import { useBlocker } from "react-router";
import { unsavedNow, useUnsavedForms } from "../common/unsaved";
import { LeavingDialog } from "./later";

/** Asks before another page is opened while a form on this one holds something unsaved. Stands once on the page. */
export function Leaving() {
  const blocker = useBlocker(({ currentLocation, nextLocation }) => currentLocation.pathname !== nextLocation.pathname && unsavedNow().length > 0);
  const names = useUnsavedForms();
  const isBlocked = blocker.state === "blocked";
  // Saved meanwhile: there is nothing to ask.
  const isOver = isBlocked && names.length === 0;
  const goOn = blocker.proceed;
  useEffect(() => {
    if (isOver) goOn?.();
  }, [isOver, goOn]);
  if (!isBlocked || isOver) return null;
  return <LeavingDialog names={names} onLeave={() => blocker.proceed()} onStay={() => blocker.reset()} />;
}
