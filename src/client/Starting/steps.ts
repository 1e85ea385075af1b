import type { Start, Step } from "./queries";

/** The steps of the first hour as they are called, in their order. */
export const steps: readonly { key: Step; name: string; about: string }[] = [
  { key: "company", name: "Your company", about: "What stands on your forms and letters, and what is taken for granted where nothing else is said." },
  { key: "mail", name: "Letters", about: "Who letters come from, and by which server they leave. Without one you hand invitations over yourself." },
  { key: "people", name: "People", about: "Who works with you, and as what. Reps and qualifiers are given leads." },
  { key: "ways", name: "Where leads come from", about: "Each way becomes a source, so that you see later which one pays." },
  { key: "set", name: "A starting set", about: "How you sell decides what you begin with. All of it can be changed afterwards, piece by piece." },
  { key: "leads", name: "The first leads", about: "A list you have, a form, or one lead by hand." },
  { key: "handover", name: "One lead, the whole way", about: "Take one real lead from its first call to a deal, and you have seen it all." },
];

/** The first step that is neither done nor left; the first of those that were left; none when all is done. */
export function nextStep(start: Pick<Start, "steps">): Step | undefined {
  const open = start.steps.filter((s) => !s.done);
  return (open.find((s) => !s.left) ?? open[0])?.key as Step | undefined;
}

/** The step after another, as one goes on page by page. */
export const stepAfter = (step: Step): Step | undefined => steps[steps.findIndex((s) => s.key === step) + 1]?.key;
