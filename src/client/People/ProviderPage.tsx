import { SetupPage } from "../Setup/SetupPage";
import { Stack } from "../parts/Layout";
import { ProviderForm } from "./ProviderForm";
import { useProvider } from "./queries";

/** The identity provider by which people sign in, and what its groups mean here. */
export function ProviderPage() {
  const provider = useProvider();
  return (
    <SetupPage title="Identity provider" intro="People sign in with the account they have at your company anyway, by OpenID Connect. Their groups there can mean roles and teams here." query={provider}>
      {(p) => (
        <Stack $width={680}>
          <ProviderForm key={p.version} provider={p} />
        </Stack>
      )}
    </SetupPage>
  );
}
