import { useEffect } from "react";
import { useNavigate } from "react-router";
import { stops } from "../common/places";
import { land } from "../parts/focus";
import { undoLast } from "../parts/Toast";

const typing = (target: EventTarget | null) => target instanceof HTMLElement && !!target.closest("input, textarea, select, [contenteditable], [role=dialog], [role=listbox]");

type Acts = { onNew?: () => void; onKeys: () => void };

/** The keys that work everywhere, but not while one types. */
export function useKeys({ onNew, onKeys }: Acts) {
  const navigate = useNavigate();
  useEffect(() => {
    const plain: Record<string, (() => unknown) | undefined> = {
      "/": () => document.getElementById("find")?.focus(),
      n: onNew,
      l: () => land("list"),
      w: () => land("composer"),
      "?": onKeys,
    };
    const listen = (e: KeyboardEvent) => {
      const held = e.ctrlKey || e.metaKey;
      const stop = stops[Number(e.key) - 1];
      if (held && e.key === "k") {
        e.preventDefault();
        document.getElementById("find")?.focus();
      } else if (typing(e.target) || e.altKey) return;
      else if (held) {
        if (e.key === "z" && undoLast()) e.preventDefault();
      } else if (stop) void navigate(stop.path);
      else if (plain[e.key]) {
        e.preventDefault();
        e.stopPropagation();
        plain[e.key]!();
      }
    };
    // Before anything on the page: a list would take a letter for the beginning of a name in it.
    window.addEventListener("keydown", listen, true);
    return () => window.removeEventListener("keydown", listen, true);
  }, [navigate, onNew, onKeys]);
}
