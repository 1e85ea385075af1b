import { Stack } from "../parts/Layout";
import { SetupPage } from "../Setup/SetupPage";
import { MailForm } from "./MailForm";
import { useMail } from "./queries";

/** The sender of letters, and the server they leave by. */
export function MailPage() {
  const mail = useMail();
  return (
    <SetupPage title="Letters" intro="Who letters come from, and by which mail server they leave. Invitations, lost passwords and messages to leads go this way." query={mail}>
      {(m) => (
        <Stack $width={560}>
          <MailForm key={m.version} mail={m} />
        </Stack>
      )}
    </SetupPage>
  );
}
