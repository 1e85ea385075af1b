import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { Row } from "../parts/Layout";
import { Text } from "../parts/Words";

type Props = { names: readonly string[]; onLeave: () => void; onStay: () => void };

/** Names what is unsaved on the page, and asks whether to go all the same. */
export function LeavingDialog({ names, onLeave, onStay }: Props) {
  return (
    <Overlay title="Leave this page?" isOpen onClose={onStay} width={460}>
      <Text>You have not saved {names.join(" and ")}. It is kept, and stands there again when you come back.</Text>
      <Row $above={4}>
        <Button look="main" autoFocus onPress={onLeave}>
          Leave it for later
        </Button>
        <Button onPress={onStay}>Go on writing</Button>
      </Row>
    </Overlay>
  );
}
