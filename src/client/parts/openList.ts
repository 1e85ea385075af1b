import { useCallback, useEffect, useRef } from "react";

// React Aria leaves alone what carries this mark when it hides the rest of the page from readers.
const mark = "data-react-aria-top-layer";

/**
 * For a box with a list under it that opens as one types. React Aria hides all else from readers while the list is open, but the keyboard still reaches it: what is reached must be
 * read. Gives what is called as the list opens and closes, and where the box is.
 */
export function useOpenList<E extends HTMLElement>() {
  const box = useRef<E>(null);
  const marked = useRef<Element | null>(null);
  const put = useCallback((isOpen: boolean) => {
    marked.current?.removeAttribute(mark);
    marked.current = isOpen ? (box.current?.closest("[role=dialog]") ?? document.getElementById("root")) : null;
    marked.current?.setAttribute(mark, "true");
  }, []);
  useEffect(() => () => put(false), [put]);
  return [box, put] as const;
}
