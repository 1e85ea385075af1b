import { Block, Stack } from "../parts/Layout";
import { SetupPage } from "../Setup/SetupPage";
import { CompanyForm } from "./CompanyForm";
import { LogoBox } from "./LogoBox";
import { useCompany } from "./queries";

/** The company that works here. */
export function CompanyPage() {
  const company = useCompany();
  return (
    <SetupPage title="Company" intro="What stands on your forms, letters and papers, and what is taken for granted where nothing else is said." query={company}>
      {(c) => (
        <Stack $gap={6} $width={560}>
          <Stack>
            <h2>Name and address</h2>
            <CompanyForm key={c.version} company={c} />
          </Stack>
          <Block>
            <h2>Logo</h2>
            <LogoBox company={c} />
          </Block>
        </Stack>
      )}
    </SetupPage>
  );
}
