import { useEffect, useState } from "react";
import { flushSync } from "react-dom";
import { useLocation } from "react-router";
import styled from "styled-components";
import { land } from "../parts/focus";

const Links = styled.div`
  position: absolute;
  z-index: 70;
  top: 0;
  left: 0;
  button {
    position: absolute;
    clip-path: inset(50%);
    white-space: nowrap;
    padding: 10px 16px;
    border: 2px solid var(--slate);
    border-radius: 3px;
    background: var(--sheet);
    font-weight: 600;
  }
  button:focus {
    clip-path: none;
    top: 6px;
    left: 6px;
  }
`;

const places = [
  ["list", "To the list"],
  ["composer", "To writing a note"],
  ["page", "To the page"],
] as const;

/** The first stops of the Tab key: past the line, to the list, to where one writes, or to the page. */
export function SkipLinks() {
  const { pathname } = useLocation();
  return <LinksOf key={pathname} />;
}

function LinksOf() {
  const [there, setThere] = useState<string[]>([]);
  // What the page has is looked at as the Tab key is pressed, before the focus goes anywhere.
  useEffect(() => {
    const look = () => setThere(places.map(([key]) => key).filter((key) => document.querySelector(`[data-landing~="${key}"]`)));
    const tab = (e: KeyboardEvent) => e.key === "Tab" && flushSync(look);
    window.addEventListener("keydown", tab);
    return () => window.removeEventListener("keydown", tab);
  }, []);
  return (
    <Links>
      {places
        .filter(([key]) => key === "page" || there.includes(key))
        .map(([key, label]) => (
          <button key={key} type="button" onClick={() => land(key) || toMain()}>
            {label}
          </button>
        ))}
    </Links>
  );
}

function toMain() {
  const main = document.querySelector<HTMLElement>("main");
  if (!main) return;
  main.tabIndex = -1;
  main.focus();
}
