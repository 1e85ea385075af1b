import { useState } from "react";
import { useSession } from "../common/session";
import { Face, faceOf } from "./Face";
import { PersonMenu } from "./later";

/** The mark of the person at work. Pressed before their menu is loaded, it opens as soon as that is there. */
export function Person({ onKeys }: { onKeys: () => void }) {
  const [isPressed, setPressed] = useState(false);
  const session = useSession();
  return <PersonMenu onKeys={onKeys} isOpen={isPressed} before={<Face type="button" aria-haspopup="menu" {...faceOf(session)} onClick={() => setPressed(true)} />} />;
}
