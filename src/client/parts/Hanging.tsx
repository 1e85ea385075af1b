import { useContext, type ReactNode } from "react";
import { OverlayTriggerStateContext, type PopoverProps } from "react-aria-components";
import { Float } from "./Field";

type Props = { label: string; placement?: PopoverProps["placement"]; children: ReactNode | ((close: () => void) => ReactNode) };

/** A small sheet that hangs at its button within a `DialogTrigger`; Escape and a press beside it close it. */
export function Hanging({ label, placement = "bottom start", children }: Props) {
  return (
    // Named by itself, and not by its button.
    <Float placement={placement} aria-label={label} aria-labelledby="">
      {typeof children === "function" ? <Closing>{children}</Closing> : children}
    </Float>
  );
}

function Closing({ children }: { children: (close: () => void) => ReactNode }) {
  const state = useContext(OverlayTriggerStateContext);
  return children(() => state?.close());
}
