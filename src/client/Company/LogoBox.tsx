import { FileTrigger } from "react-aria-components";
import styled from "styled-components";
import { useAct } from "../common/acting";
import { Button } from "../parts/Button";
import { Row, Stack } from "../parts/Layout";
import { Hint, Wrong } from "../parts/Words";
import { logoOf } from "./logo";
import { companyActs, type Company } from "./queries";

const Shown = styled.img`
  display: block;
  max-width: 240px;
  max-height: 64px;
  padding: 6px;
  border: 1px solid var(--hair);
  border-radius: 3px;
  /* As on the pages it stands on, by day and by night. */
  background: var(--public);
`;

/** The company's logo: chosen from a file, or taken away. */
export function LogoBox({ company }: { company: Company }) {
  const act = useAct("here");
  const put = (files: FileList | null) => {
    const file = files?.[0];
    if (file) void act.run(async () => companyActs.putLogo(await logoOf(file)), { changes: ["company"], words: "The logo is in place." });
  };
  const drop = () => void act.run(companyActs.dropLogo, { changes: ["company"], words: "The logo is taken away." });
  return (
    <Stack $gap={2} role="group" aria-label="Logo">
      {company.logo && <Shown src={company.logo} alt={`Logo of ${company.name}`} />}
      <Row>
        <FileTrigger acceptedFileTypes={["image/png", "image/jpeg", "image/svg+xml", "image/webp"]} onSelect={put}>
          <Button isPending={act.busy} isDisabled={company.version === 0}>
            {company.logo ? "Another logo" : "Choose a logo"}
          </Button>
        </FileTrigger>
        {company.logo && (
          <Button look="quiet" onPress={drop} isPending={act.busy}>
            Take it away
          </Button>
        )}
      </Row>
      {act.any ? <Wrong>{act.any}</Wrong> : <Hint>{company.version === 0 ? "Once the company has its name." : "It stands on your forms. A wide one looks best."}</Hint>}
    </Stack>
  );
}
