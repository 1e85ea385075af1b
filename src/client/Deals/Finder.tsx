import { AccountBox, ContactBox } from "../common/RecordBox";
import { Button } from "../parts/Button";
import type { Found } from "../parts/FindBox";
import { Block, Row } from "../parts/Layout";
import type { ReactNode } from "react";

type Props = { label: string; onFound: (id: string, name: string) => void; onLeave: () => void };

/** A record is found by typing, and taken by choosing it. */
function Finder({ box, onLeave }: { box: ReactNode; onLeave: () => void }) {
  return (
    <Block onKeyDown={(e) => e.key === "Escape" && (e.stopPropagation(), onLeave())}>
      {box}
      <Row $above={1}>
        <Button look="quiet" onPress={onLeave}>
          Leave it
        </Button>
      </Row>
    </Block>
  );
}

const taken = (onFound: Props["onFound"]) => (found: Found | null) => found && onFound(found.key, found.label);

/** Finds a contact by name or email; those of an account first, before anything is written. */
export const ContactFinder = ({ account, label, onFound, onLeave }: Props & { account?: string }) => <Finder onLeave={onLeave} box={<ContactBox label={label} account={account} value={null} onChange={taken(onFound)} autoFocus />} />;

/** Finds an account by its name. */
export const AccountFinder = ({ label, onFound, onLeave }: Props) => <Finder onLeave={onLeave} box={<AccountBox label={label} value={null} onChange={taken(onFound)} autoFocus />} />;
