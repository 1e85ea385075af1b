import { useState } from "react";
import styled from "styled-components";
import { ChoiceBox } from "../parts/Field";
import { Known } from "../Rights/Known";
import { settle, type Sheet, type Targets } from "./landing";

const Top = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(220px, 300px);
  gap: 8px 24px;
  align-items: start;
  margin-bottom: 8px;
  p {
    font-size: 13px;
    color: var(--soft);
    margin-top: 2px;
  }
  @media (max-width: 1023px) {
    grid-template-columns: minmax(0, 1fr);
  }
`;

type Props = { kind: "account" | "contact"; sheet: Sheet; targets: Targets; onTargets: (targets: Targets) => void };

type Kind = Props["kind"];

/** The targets with what was chosen for the account, or for the contact; the other stays as it is. */
export function chosen(kind: Kind, targets: Targets, key: string): Targets {
  const { account, newAccount, makes, contact, newContact, ...rest } = targets;
  if (kind === "contact") return { ...rest, account, newAccount, makes, ...(key === "new" ? { newContact: true } : { contact: key }) };
  const fresh: Record<string, Targets> = { none: { makes: "none" }, household: { makes: "household", newAccount: true }, new: { makes: "organisation", newAccount: true } };
  return { ...rest, contact, newContact, ...(fresh[key] ?? { account: key }) };
}

/** The record it lands on: one that is there, with the evidence for it, or a new one. */
export function TargetBox({ kind, sheet, targets, onTargets }: Props) {
  // What was found once can be chosen again, also while another layout is shown.
  const [found] = useState(kind === "account" ? sheet.accounts : sheet.contacts);
  const linked = settle(sheet, targets)[kind];
  const fresh = kind === "account" ? freshAccounts(sheet) : [{ key: "new", label: found.length ? "somebody else: a new contact" : "a new contact" }];
  const options = [...found.map((f) => ({ key: f.id, label: f.name })), ...fresh];
  const value = linked ?? (kind === "contact" ? "new" : sheet.makes === "none" ? "none" : sheet.makes === "household" ? "household" : "new");
  return (
    <Top>
      <div>
        <h2>{kind === "account" ? "Account" : "Contact"}</h2>
        <p>{wordsOf(kind, sheet, found, linked)}</p>
        {sheet.known.filter((k) => k.kind === kind).map((k) => <Known key={k.known.id} known={k.known} />)}
      </div>
      <ChoiceBox hideLabel label={kind === "account" ? "The account it lands on" : "The contact it lands on"} value={value} options={options} onChange={(key) => onTargets(chosen(kind, targets, key))} />
    </Top>
  );
}

function wordsOf(kind: Kind, sheet: Sheet, found: Sheet["accounts"] | Sheet["contacts"], linked: string | null): string {
  const one = found.find((f) => f.id === linked);
  if (one) return `${one.name}: ${one.evidence.join("; ")}. ${one.bits.toFixed(1)} bits of evidence${one.same ? "" : ", not enough to be sure"}.`;
  if (kind === "contact") return `A new one.${found.length ? "" : " Nobody like this is there."}`;
  if (sheet.makes === "none" && !linked) return "A private person has no account; what belongs to one stays with the contact.";
  return `A new one, ${sheet.accountName ?? ""}.${found.length ? "" : " None like it is there."}`;
}

function freshAccounts(sheet: Sheet) {
  const other = sheet.accounts.length ? "another one: a new account" : "a new account";
  return [
    { key: "new", label: other },
    { key: "household", label: "a household" },
    { key: "none", label: "no account" },
  ];
}
