const able = "a[href], button:not([disabled]), input:not([disabled]):not([type=hidden]), textarea:not([disabled]), select:not([disabled]), [tabindex]:not([tabindex='-1'])";

const isSeen = (e: Element) => e.getClientRects().length > 0;

const ableIn = (box: Element) => [...box.querySelectorAll<HTMLElement>(able)].filter(isSeen);

/**
 * Where the focus was: the boxes around it, innermost first, each with the place its child had that held the focus. Every focus is remembered and few are lost, so that which others
 * could take it is looked for only then.
 */
type Place = { element: HTMLElement; around: { box: Element; at: number }[] };

function placeOf(element: HTMLElement): Place {
  const around: Place["around"] = [];
  // Not the page itself: what floated over it has no place in it.
  for (let child: Element = element; child.parentElement && child.parentElement !== document.body; child = child.parentElement)
    around.push({ box: child.parentElement, at: Array.prototype.indexOf.call(child.parentElement.children, child) });
  return { element, around };
}

const isBefore = (one: Element, other: Element) => (other.compareDocumentPosition(one) & Node.DOCUMENT_POSITION_PRECEDING) > 0;

// A heading takes the focus where nothing else in its part can, so that reading goes on from there.
function toHeading(box: Element) {
  const heading = box.querySelector<HTMLElement>("h1, h2, h3");
  if (!heading || !isSeen(heading)) return false;
  heading.tabIndex = -1;
  heading.focus({ preventScroll: true });
  return true;
}

/** Puts the focus on what stands where it was: in the innermost box that is still there, what has its place now, or the last before it. */
function goOn({ around }: Place) {
  for (const { box, at } of around) {
    if (!box.isConnected) continue;
    const there = ableIn(box);
    const next = box.children[at];
    const first = next && there.find((e) => !isBefore(e, next));
    if (there.length > 0) return (first ?? there.at(-1)!).focus({ preventScroll: true });
    if (toHeading(box)) return;
  }
  const main = document.querySelector("main");
  if (main) toHeading(main);
}

/**
 * Keeps the focus on the page: when the element that has it goes (a row that is done, a form that closes) or is switched off for a moment, the focus goes to what stands in its
 * place, and not to the top of the page. Listens until the given function is called.
 */
export function keepFocus(): () => void {
  let place: Place | undefined;
  let look: number | undefined;
  const remember = (e: FocusEvent) => {
    if (e.target instanceof HTMLElement && e.target !== document.body) place = placeOf(e.target);
  };
  const check = () => {
    look = undefined;
    const now = document.activeElement;
    if (!place || (now && now !== document.body)) return;
    const { element } = place;
    // Left on purpose, by a press beside everything.
    if (element.isConnected && !element.matches(":disabled") && isSeen(element)) return;
    if (element.isConnected && element.matches(":disabled")) return;
    const lost = place;
    place = undefined;
    goOn(lost);
  };
  // What was switched off while it had the focus has it again when it is on.
  const seen = new MutationObserver((changes) => {
    const again = place?.element;
    if (again?.isConnected && document.activeElement === document.body && changes.some((c) => c.target === again && c.attributeName === "disabled") && !again.matches(":disabled")) again.focus({ preventScroll: true });
    look ??= requestAnimationFrame(check);
  });
  document.addEventListener("focusin", remember);
  seen.observe(document.body, { childList: true, subtree: true, attributes: true, attributeFilter: ["disabled"] });
  return () => {
    document.removeEventListener("focusin", remember);
    seen.disconnect();
    if (look) cancelAnimationFrame(look);
  };
}

/** Puts the focus into a part of the page that is marked by `data-landing`: on what is chosen in it, its first row or field. False where there is no such part. */
export function land(name: string): boolean {
  const box = [...document.querySelectorAll<HTMLElement>(`[data-landing~="${name}"]`)].find(isSeen);
  if (!box) return false;
  const first = box.querySelector<HTMLElement>("[aria-selected=true], [role=row], textarea") ?? ableIn(box)[0] ?? box;
  if (first === box) box.tabIndex = -1;
  first.focus();
  return true;
}
