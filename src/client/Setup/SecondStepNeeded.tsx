import { api, must } from "../api/client";
import { useAct } from "../common/acting";
import { SessionContext, type Session } from "../common/session";
import { Button } from "../parts/Button";
import { Door } from "../parts/Door";
import { SecondStep } from "./SecondStep";

/** All that is there for somebody whose role asks for a second step that this session began without. */
export function SecondStepNeeded({ session }: { session: Session }) {
  const act = useAct();
  const leave = () => void act.run(() => must(api.DELETE("/api/session")), { changes: ["session"] });
  return (
    <SessionContext value={session}>
      <Door>
        <SecondStep />
        <Button look="quiet" isPending={act.busy} onPress={leave}>
          Sign out
        </Button>
      </Door>
    </SessionContext>
  );
}
