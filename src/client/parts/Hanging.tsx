import { useContext, type ReactNode } from "react";
import { OverlayTriggerStateContext, type PopoverProps } from "react-aria-components";
import { Float } from "./Field";

type Props = { label: string; placement?: PopoverProps["placement"]; children: ReactNode | ((close: () => void) => ReactNode) };

// Named by itself: its button would name it otherwise.
const named = (label: string) => ({ "aria-label": label, "aria-labelledby": "" });

/** A small sheet that hangs at its button within a `DialogTrigger`; Escape and a press beside it close it. */
export function Hanging({ label, placement = "bottom start", children }: Props) {
  return (
    <Float placement={placement} {...named(label)}>
      {typeof children === "function" ? <Closing>{children}</Closing> : children}
    </Float>
  );
}

function Closing({ children }: { children: (close: () => void) => ReactNode }) {
  const state = useContext(OverlayTriggerStateContext);
  return children(() => state?.close());
}
