import { useEffect } from "react";
import { useBlocker } from "react-router";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { Row } from "../parts/Layout";
import { Text } from "../parts/Words";
import { unsavedNow, useUnsavedForms } from "./unsaved";

/** Asks before another page is opened while a form on this one holds something unsaved. Stands once on the page. */
export function Leaving() {
  const blocker = useBlocker(({ currentLocation, nextLocation }) => currentLocation.pathname !== nextLocation.pathname && unsavedNow().length > 0);
  const stay = () => blocker.state === "blocked" && blocker.reset();
  const names = useUnsavedForms();
  // Saved meanwhile: there is nothing to ask.
  const isOver = blocker.state === "blocked" && names.length === 0;
  useEffect(() => {
    if (isOver && blocker.state === "blocked") blocker.proceed();
  }, [isOver, blocker]);
  return (
    <Overlay title="Leave this page?" isOpen={blocker.state === "blocked" && !isOver} onClose={stay} width={460}>
      <Text>You have not saved {names.join(" and ")}. It is kept, and stands there again when you come back.</Text>
      <Row $above={4}>
        <Button look="main" autoFocus onPress={() => blocker.state === "blocked" && blocker.proceed()}>
          Leave it for later
        </Button>
        <Button onPress={stay}>Go on writing</Button>
      </Row>
    </Overlay>
  );
}
